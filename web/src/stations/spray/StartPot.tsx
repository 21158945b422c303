// A charge that waits for the gun: how long its induction still runs, and the button that starts it.
import { Button } from "@mui/material";
import { putOn } from "../../batch/putOn";
import type { StationProps } from "../../batch/station";
import { minutes } from "../../ui/clock";

export function StartPot({
  view,
  start,
  elapsed,
}: StationProps<"spray"> & { start: () => void; elapsed: number }) {
  const spray = view.spray;
  const pot = view.pots.find((p) => p.id === spray.start);
  const waits = pot?.state === "inducting" && pot.counts_s ? Math.max(0, pot.counts_s - elapsed) : null;
  const time = waits === null ? null : minutes(waits);
  return (
    <>
      <span className="label">
        {view.at_gun
          ? "The gun is loaded"
          : `Pot ${spray.start_pot} stands ready${putOn(view).by_hand ? "" : " to load"}`}
      </span>
      {time && (
        <div>
          <span className="live mono">{time.figure}</span> {time.unit} of induction left
        </div>
      )}
      <div className="actions">
        <Button variant="contained" size="large" name="start-spraying" onClick={start}>
          Start {putOn(view).doing}
        </Button>
      </div>
      {spray.cannot_start && <p className="word-tell">{spray.cannot_start}</p>}
    </>
  );
}
