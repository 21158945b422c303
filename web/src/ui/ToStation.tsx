// The way on, where a station has nothing to do yet.
import { Button } from "@mui/material";
import { useNavigate } from "@tanstack/react-router";

export function ToStation({ view, at, word }: { view: { id: string }; at: number; word: string }) {
  const navigate = useNavigate();
  return (
    <div className="actions">
      <Button
        variant="contained"
        name="to-station"
        onClick={() => void navigate({ to: "/batches/$id", params: { id: view.id }, search: { at } })}
      >
        {word}
      </Button>
    </div>
  );
}
