// What is left of a pot goes to the next coat of the job, in one tap.
import { Button } from "@mui/material";
import type { Schemas } from "../../api/client";
import { useHandOver } from "./useHandOver";

type Props = { book: string; pot: { id: string; no: number }; to: Schemas["HandTo"]; left?: string };

export function ToNextCoat({ book, pot, to, left }: Props) {
  const hand = useHandOver(book, pot.id);
  return (
    <>
      <Button
        variant="outlined"
        name="to-next-coat"
        disabled={hand.isPending}
        onClick={() => hand.mutate(to.id)}
      >
        Pot {pot.no}
        {left ? `, ${left},` : ""} to the next coat
      </Button>
      {hand.error && <span className="refusal">{hand.error.message}</span>}
    </>
  );
}
