// Shutting a rig down, step by step: nothing is opened before a gauge was read at zero. The same panel stands in a batch
// that is closed and with the rig itself.
import { useQuery } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import type { Schemas } from "../api/client";
import { at } from "../api/entry";
import { meQuery, rigQuery } from "../api/queries";
import { emptying } from "../api/turns";
import { shopTime } from "../ui/clock";
import { Field } from "../ui/Field";
import { LiveGauges, useGauges } from "./LiveGauges";
import { RigDrawing } from "./RigDrawing";
import { useRigBook } from "./useRigBook";
import { Act } from "../ui/Act";

type Step = Schemas["ShutStepView"];

type Props = {
  rig: string;
  solvent?: string | null | undefined;
  /** It fills a station's two halves; else two columns of its own. */
  station?: boolean;
};

export function ShutDown({ rig: id, solvent, station }: Props) {
  const rig = useQuery(rigQuery(id)).data;
  const me = useQuery(meQuery).data;
  const gauges = useGauges(id);
  const { say, refused, forget } = useRigBook(id);
  const [read, setRead] = useState("");
  const [chosen, setChosen] = useState<string | null>(null);
  const care = rig?.care;
  if (!rig || !care) return <p className="slate">Reading the rig.</p>;
  const halves = station ? (["do", "see"] as const) : (["shut-down", "shut-see"] as const);
  const hand = chosen ?? care.next ?? null;
  const zone = me?.zone ?? "UTC";
  const tick = (step: Step) => {
    const answer = say("shut_step", { step: step.id, ...(step.is === "zero" ? { gauge_kpa: read } : {}) });
    void emptying(read, "", setRead, answer);
    void emptying(chosen, null, setChosen, answer);
  };
  const stop = refused && !at("gauge_kpa", refused.fields) ? refused.detail : null;
  return (
    <Halves station={station ?? false}>
      <div className={halves[0]}>
        <p className={`pressed ${care.under_pressure ? "word-out" : "word-in"}`} role="status">
          {care.under_pressure ? (
            <>
              <b>Under pressure</b> since {shopTime(care.under_pressure, zone, me?.now)}: nothing is opened
              before a gauge reads zero.
            </>
          ) : (
            <>
              <b>Not under pressure</b> by its book. Look at the gauge all the same.
            </>
          )}
        </p>
        <ol className="steps" aria-label="Shut-down">
          {care.steps.map((step, i) => (
            <li key={step.id} className={step.done_at ? "done" : step.id === hand ? "hand" : ""}>
              {step.id === hand && !step.done_at ? (
                <div className="in-hand">
                  <b>
                    {i + 1}. {step.word}
                  </b>
                  {step.is === "zero" && (
                    <Field
                      name="gauge_kpa"
                      label="The gauge reads"
                      value={read}
                      onChange={setRead}
                      {...(at("gauge_kpa", refused?.fields)
                        ? { error: at("gauge_kpa", refused?.fields) ?? "" }
                        : {})}
                    />
                  )}
                  <div className="actions">
                    <Act
                      name={`step-${step.id}`}
                      word={step.is === "zero" ? "It reads this" : "Done"}
                      needs={step.is === "zero" && read.trim() === "" && "type what the gauge reads"}
                      press={() => tick(step)}
                    />
                    {step.held && <span className="word-out">Stop: {step.held}</span>}
                  </div>
                  {stop && (
                    <p className="refusal" role="alert">
                      <b>Stop. </b>
                      {stop}
                    </p>
                  )}
                </div>
              ) : (
                <button
                  type="button"
                  className="step-row"
                  name={`to-step-${step.id}`}
                  disabled={Boolean(step.done_at)}
                  onClick={() => {
                    forget();
                    setChosen(step.id);
                  }}
                >
                  <Mark step={step} />
                  <span>
                    {i + 1}. {step.word}
                  </span>
                  <span className="small slate nowrap">
                    {step.done_at
                      ? `${shopTime(step.done_at, zone, me?.now)}, ${step.done_by}`
                      : step.held
                        ? "not before zero"
                        : ""}
                  </span>
                </button>
              )}
            </li>
          ))}
        </ol>
        {care.done === care.steps.length && <p className="word-in">Shut down, flushed and relieved.</p>}
      </div>
      <div className={halves[1]}>
        <LiveGauges gauges={gauges} />
        <RigDrawing points={rig.points} brief />
        <span className="label">To flush it</span>
        <Flush care={care} solvent={solvent} />
        <p className="small slate">
          The maker’s instructions, local codes and licensed practice rule. Excess that was mixed never goes
          back into a can.
        </p>
      </div>
    </Halves>
  );
}

function Halves({ station, children }: { station: boolean; children: ReactNode }) {
  return station ? <>{children}</> : <div className="shut-two">{children}</div>;
}

function Flush({ care, solvent }: { care: Schemas["CareView"]; solvent?: string | null | undefined }) {
  return (
    <p>
      {solvent ? (
        <>
          With <b>{solvent}</b>:{" "}
        </>
      ) : null}
      {care.flush.map((f, i) => (
        <span key={f.school}>
          {i > 0 && ", or "}
          <b className="mono">{f.volume.text}</b> ({f.word})
        </span>
      ))}
      . Both end when it runs clear.
    </p>
  );
}

function Mark({ step }: { step: Step }) {
  return (
    <svg viewBox="0 0 24 24" width="24" height="24" aria-hidden>
      <circle cx="12" cy="12" r="10" fill="none" stroke="var(--ink)" strokeWidth="2" />
      {step.done_at && <path d="M6 12l4 5 8-10" fill="none" stroke="var(--verdigris)" strokeWidth="3" />}
      {!step.done_at && step.held && <path d="M5 12H19" stroke="var(--oxide)" strokeWidth="4" />}
    </svg>
  );
}
