// What happens between the passes: one tap each, with its zone.
import { Button, Dialog } from "@mui/material";
import { useId, useState } from "react";
import { useWords } from "../../api/forms";
import { useWrite } from "../../api/entry";
import type { StationProps } from "../../batch/station";
import { Choice } from "../../ui/Choice";

export function Happened({
  view,
  zone,
  close,
}: StationProps<"spray"> & { zone: string | null; close: () => void }) {
  const words = useWords();
  const { write, busy, refused } = useWrite(view.id);
  const [at, setAt] = useState(zone ?? "");
  const id = useId();
  const may = view.spray.board?.may_happen ?? [];
  return (
    <Dialog open onClose={close} aria-labelledby={id} fullWidth maxWidth="sm">
      <div style={{ padding: 24, display: "grid", gap: 16 }}>
        <h2 id={id}>What happened?</h2>
        {view.zones.length > 1 && (
          <Choice
            name="happened-at"
            label="At"
            value={at}
            set={setAt}
            options={[
              ["", "nowhere on the part"] as const,
              ...view.zones.map((z) => [z.id, z.name] as const),
            ]}
          />
        )}
        <div className="happened-ways">
          {words.happened
            .filter((w) => may.includes(w.value))
            .map((w) => (
              <Button
                key={w.value}
                variant="outlined"
                name={`happened-${w.value}`}
                disabled={busy}
                onClick={() =>
                  void write("happening", { what: w.value, zone: at || null }).then((ok) => ok && close())
                }
              >
                {w.word}
              </Button>
            ))}
        </div>
        {refused && (
          <p className="refusal" role="alert">
            {refused.detail}
          </p>
        )}
        <div className="actions">
          <Button variant="text" onClick={close} sx={{ color: "text.primary" }}>
            Nothing
          </Button>
        </div>
      </div>
    </Dialog>
  );
}
