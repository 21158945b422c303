// Ways back from a wrong pour, and what wants saying of the mix.
import { Button } from "@mui/material";
import type { Schemas } from "../../api/client";
import { useWrite } from "../../api/entry";
import type { StationProps } from "../../batch/station";
import { WorkingSheet } from "../../ui/WorkingSheet";

export function Rescue({ view, pot }: StationProps<"mix"> & { pot: Schemas["MixPot"] }) {
  const { write, refused } = useWrite(view.id);
  if (pot.rescues.length === 0 && pot.judgements.length === 0 && pot.cautions.length === 0) return null;
  return (
    <section aria-label="What to say of this mix" style={{ display: "grid", gap: 6 }}>
      {pot.judgements.map((j) => (
        <p key={j.code} className={j.stop ? "refusal" : "word-tell"} role={j.stop ? "alert" : undefined}>
          {j.stop && <b>Stop. </b>}
          {j.text}
        </p>
      ))}
      {pot.rescues.map((r, i) => (
        <div key={r.to} className="rescue">
          <Button
            variant={i === 0 ? "contained" : "outlined"}
            name={`rescue-${r.to}`}
            onClick={() => void write("rescue", { charge: pot.id, to: r.to })}
          >
            {r.word}
          </Button>
          <span>
            add <b className="mono">{r.add}</b>: {r.total_mass.text}, {r.total.text} in all
            {r.wants.map((w) => (
              <span key={w} className="word-tell">
                ; {w}
              </span>
            ))}
          </span>
        </div>
      ))}
      <WorkingSheet working={pot.rescues[0]?.working} last={2} />
      {refused && <p className="refusal">{refused.detail}</p>}
      {pot.cautions.map((c) => (
        <p key={c} className="small slate">
          {c}
        </p>
      ))}
    </section>
  );
}
