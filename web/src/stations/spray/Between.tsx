// Between two passes: set the comb, say that the film looks ready, that something happened, that work stops or goes on.
import { Button } from "@mui/material";
import { useState } from "react";
import { useWrite } from "../../api/entry";
import type { StationProps } from "../../batch/station";
import { Happened } from "./Happened";

type Props = StationProps<"spray"> & {
  zone: string | null;
  /** The comb proves this film: it is set from here. */
  comb: (() => void) | null;
};

export function Between({ view, zone, comb }: Props) {
  const { write, busy, refused } = useWrite(view.id);
  const [asking, setAsking] = useState(false);
  const board = view.spray.board;
  if (!board) return null;
  const card = board.zones.find((z) => (z.id ?? null) === zone);
  const look = card?.wait?.looked ? null : card?.wait?.look;
  const said = (what: "pause" | "goes_on") => void write("happening", { what, zone: null });
  return (
    <>
      <div className="actions between">
        {look && (
          <Button
            variant="outlined"
            name="look-ready"
            disabled={busy}
            onClick={() => void write("pass_look", { zones: zone ? [zone] : [], look })}
          >
            {view.zones.length > 1 && card ? `${card.name}: ` : ""}
            {card?.wait?.look_word}
          </Button>
        )}
        {comb && (
          <Button variant="outlined" name="comb-now" onClick={comb}>
            Set the comb
          </Button>
        )}
        <Button
          variant="outlined"
          name="something-odd"
          aria-haspopup="dialog"
          onClick={() => setAsking(true)}
        >
          Something odd
        </Button>
        <Button
          variant={board.paused_since ? "contained" : "outlined"}
          name="pause"
          disabled={busy}
          onClick={() => said(board.paused_since ? "goes_on" : "pause")}
        >
          {board.paused_since ? "Go on" : "Pause"}
        </Button>
      </div>
      {refused && (
        <p className="refusal" role="alert">
          {refused.detail}
        </p>
      )}
      {asking && <Happened view={view} zone={zone} close={() => setAsking(false)} />}
    </>
  );
}
