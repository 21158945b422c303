// What stands in the hose, and which pot waits.
import type { PotView } from "../../api/client";
import type { StationProps } from "../../batch/station";

export function InHose({ view, hose }: StationProps<"spray"> & { hose: PotView | undefined }) {
  const { charge, start, start_pot } = view.spray;
  if (!hose && !(charge && start)) return null;
  return (
    <p className="small">
      {hose && (
        <span className={hose.state === "spent" || hose.state === "last_call" ? "word-tell" : "slate"}>
          The hose holds {hose.left.text} of pot {hose.no}
          {hose.state === "open" ? "" : ", mixed"}
          {hose.note ? `; ${hose.note}` : ""}.{" "}
        </span>
      )}
      {charge && start && <span className="slate">Pot {start_pot} waits.</span>}
    </p>
  );
}
