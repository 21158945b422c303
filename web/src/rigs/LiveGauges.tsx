// What the transmitters of a rig read now: two sight tubes, as full as the rig is pressed, with their figures.
import { useEffect, useState } from "react";
import type { Schemas } from "../api/client";

type Gauges = Schemas["GaugesView"];

/** The gauges of a rig as they move; `null` until they were heard. */
export function useGauges(rig: string | null | undefined) {
  const [said, setSaid] = useState<Gauges | null>(null);
  useEffect(() => {
    if (!rig) return;
    const source = new EventSource(`/api/v1/rigs/${rig}/gauges`);
    source.addEventListener("gauges", (e) => setSaid(JSON.parse(String((e as MessageEvent).data)) as Gauges));
    source.onerror = () => setSaid(null);
    const close = () => source.close();
    window.addEventListener("pagehide", close);
    return () => {
      window.removeEventListener("pagehide", close);
      close();
      setSaid(null);
    };
  }, [rig]);
  return said;
}

/** Nothing where the rig has no transmitter. */
export function LiveGauges({ gauges, small }: { gauges: Gauges | null; small?: boolean }) {
  if (!gauges?.fitted) return null;
  const silent = !gauges.pot && !gauges.gun;
  return (
    <div className={`gauges ${small ? "small-gauges" : ""}`} role="group" aria-label="Transmitters now">
      <Tube word="Pot" shown={gauges.pot} part={gauges.pot_part} />
      <Tube word="Gun" shown={gauges.gun} part={gauges.gun_part} />
      <span className="small slate">
        {silent
          ? "The transmitters do not answer: read the gauge."
          : gauges.between && gauges.pot && gauges.gun
            ? `${gauges.between.text} between pot and gun`
            : "one transmitter does not answer"}
      </span>
    </div>
  );
}

function Tube(props: {
  word: string;
  shown?: Schemas["Shown"] | null | undefined;
  part?: number | null | undefined;
}) {
  const full = Math.max(0, Math.min(1, props.part ?? 0));
  return (
    <div className="tube">
      <svg viewBox="0 0 22 64" aria-hidden>
        <rect
          x="3"
          y="2"
          width="16"
          height="60"
          rx="8"
          fill="var(--ground)"
          stroke="var(--ink)"
          strokeWidth="2"
        />
        {props.shown && (
          <rect x="6" y={5 + 54 * (1 - full)} width="10" height={54 * full} rx="5" fill="var(--verdigris)" />
        )}
      </svg>
      <span className="tube-said">
        <span className="label">{props.word}</span>
        <b className="mono nowrap" data-gauge={props.word.toLowerCase()}>
          {props.shown?.text ?? "silent"}
        </b>
      </span>
    </div>
  );
}
