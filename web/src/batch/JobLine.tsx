// The coats of a job, one over the other, at the coat that is looked at: what the coat before made ready is carried on in one tap.
import { Button } from "@mui/material";
import { Link } from "@tanstack/react-router";
import { useState } from "react";
import type { BatchView } from "../api/client";
import { useWrite } from "../api/entry";
import { ReasonDialog } from "./ReasonDialog";

export function JobLine({ view }: { view: BatchView }) {
  const { write, busy, refused } = useWrite(view.id);
  const [leaving, setLeaving] = useState(false);
  const job = view.job;
  if (!job) return null;
  const from = job.carry_from;
  return (
    <section className="job-line" aria-label="The job">
      <ol className="job-coats">
        {job.coats.map((c) => (
          <li key={c.batch} className={c.here ? "here" : ""}>
            <Link to="/batches/$id" params={{ id: c.batch }} search={{ at: 1 }}>
              <svg width="34" height="16" viewBox="0 0 34 16" aria-hidden>
                <path
                  d="M1 7q16 -6 32 0v8H1z"
                  fill={c.on ? "var(--base)" : "none"}
                  stroke="var(--ink)"
                  strokeWidth="2"
                  strokeDasharray={c.on ? undefined : "4 3"}
                />
              </svg>
              <span>
                Coat {c.coat} <span className="slate">{c.word}</span>
              </span>
            </Link>
          </li>
        ))}
      </ol>
      {from !== null && from !== undefined && (
        <div className="actions">
          <Button
            variant="contained"
            name="carry-on"
            disabled={busy}
            onClick={() => void write("carry_on", { touched: false })}
          >
            Carry on from batch {String(from).padStart(4, "0")}
          </Button>
          <Button
            variant="outlined"
            name="carry-on-touched"
            disabled={busy}
            onClick={() => void write("carry_on", { touched: true })}
          >
            It was touched since
          </Button>
          <span className="small slate">
            lots, rig, guards and lists stand; what another day or a touched surface asks anew is asked
          </span>
        </div>
      )}
      {refused && (
        <p className="refusal" role="alert">
          {refused.detail}
        </p>
      )}
      {job.may_leave_out && (
        <button
          type="button"
          className="link"
          name="leave-out"
          aria-haspopup="dialog"
          onClick={() => setLeaving(true)}
        >
          Leave this coat out
        </button>
      )}
      {leaving && (
        <ReasonDialog
          view={view}
          title={`Leave out ${job.word}`}
          text="Nothing of it is mixed. Its batch is closed, and the coats after it go on the coat before."
          action="Leave it out"
          kind="leave_out"
          payload={(reason) => ({ reason })}
          close={() => setLeaving(false)}
        />
      )}
    </section>
  );
}
