// The stream test from the beginning, step by step: ticked in the batch, begun anew with another rig.
import { useQuery } from "@tanstack/react-query";
import { useWrite } from "../../api/entry";
import { meQuery } from "../../api/queries";
import type { StationProps } from "../../batch/station";
import { shopTime } from "../../ui/clock";

export function Guide({ view }: StationProps<"set">) {
  const me = useQuery(meQuery).data;
  const { write } = useWrite(view.id);
  const next = view.set.guide.find((g) => !g.done_at)?.id;
  return (
    <ol className="steps" aria-label="Up to the stream">
      {view.set.guide.map((g, i) => (
        <li key={g.id} className={g.done_at ? "done" : g.id === next ? "hand" : ""}>
          <button
            type="button"
            className="step-row"
            name={`guide-${g.id}`}
            disabled={Boolean(g.done_at)}
            onClick={() => void write("set_step", { step: g.id })}
          >
            <svg viewBox="0 0 24 24" width="24" height="24" aria-hidden>
              <circle cx="12" cy="12" r="10" fill="none" stroke="var(--ink)" strokeWidth="2" />
              {g.done_at && <path d="M6 12l4 5 8-10" fill="none" stroke="var(--verdigris)" strokeWidth="3" />}
            </svg>
            <span>
              {i + 1}. {g.word}
            </span>
            <span className="small slate nowrap">
              {g.done_at ? shopTime(g.done_at, me?.zone ?? "UTC", view.as_of) : ""}
            </span>
          </button>
        </li>
      ))}
    </ol>
  );
}
