// The next pass: which zone, which way, when it may go on; one big stamp, with the paint it took where that is known.
import { Button } from "@mui/material";
import { useState } from "react";
import { offered, useWords } from "../../api/forms";
import type { Schemas } from "../../api/client";
import { useEntryForm } from "../../api/useEntryForm";
import { useKeys } from "../../app/keys";
import { useAwake } from "../../hands/awake";
import { useStamp } from "../../hands/pedal";
import { putOn } from "../../batch/putOn";
import type { StationProps } from "../../batch/station";
import { stopwatch } from "../../ui/clock";
import { EntryChoice, EntryField } from "../../ui/EntryField";
import { Choice } from "../../ui/Choice";
import { waitNow } from "./wait";

const EMPTY = { used_ml: "", sprayed_watch_s: "", step: "", way: "" as Schemas["PassWay"] | "" };

type Props = StationProps<"spray"> & {
  charge: string;
  zone: string | null;
  /** It was stamped: what was chosen by hand is let go. */
  stamped: () => void;
  /** Seconds since the last pass. */
  since: number | null;
  now: number;
};

export function StampPass({ view, charge, zone, stamped, since, now }: Props) {
  const words = useWords();
  const [otherwise, setOtherwise] = useState(false);
  const spray = view.spray;
  const board = spray.board;
  const entry = useEntryForm(view.id, "pass", EMPTY, {
    says: (f) => ({
      charge,
      zones: zone ? [zone] : [],
      used_ml: f.used_ml.trim() ? f.used_ml : null,
      ...(f.sprayed_watch_s.trim() ? { sprayed_watch_s: f.sprayed_watch_s } : {}),
      ...(f.step ? { step: f.step } : {}),
      ...(f.way ? { way: f.way } : {}),
    }),
    then: () => {
      setOtherwise(false);
      stamped();
    },
    // A stamp says nothing new while no figure of it is typed.
    asks: (f) => Boolean(f.used_ml.trim() || f.sprayed_watch_s.trim()),
  });
  useKeys((key) => (key === "p" ? (void entry.take(), true) : false));
  useStamp(() => void entry.take());
  useAwake(true);
  const f = { of: entry };
  const next = board?.next;
  const card = board?.zones.find((z) => (z.id ?? null) === zone);
  const wait = card?.wait ? waitNow(card.wait, now) : null;
  const byPlan = next && (next.zone ?? null) === zone;
  const several = view.zones.length > 1;
  const title = byPlan
    ? next.title
    : card
      ? `${several ? `${card.name}, ` : ""}pass ${card.done + 1}${card.planned ? ` of ${card.planned}` : ""}`
      : "All passes are on";
  const steps = spray.steps ?? [];
  // By brush and roller nobody reads what a pass took: it may stay empty, and no trigger is timed.
  const { by_hand } = putOn(view);
  const by_time = Boolean(spray.by_time) && !by_hand;
  return (
    <>
      <div className="next-pass" role="status">
        <h2>{!next && card?.complete ? "All passes are on" : title}</h2>
        {byPlan && next.line && <p className="next-line">{next.line}</p>}
        {byPlan && <p className="small slate">{next.hint}</p>}
      </div>
      <div className="stamp-row">
        <Button
          variant="contained"
          size="large"
          name="stamp-pass"
          aria-busy={entry.busy}
          className="big-stamp"
          onClick={() => void entry.take()}
        >
          Stamp {several && card ? card.name : "a pass"} · p
        </Button>
        {wait?.toGo ? (
          <span>
            <span className="live mono word-tell">{stopwatch(Math.ceil(wait.toGo))}</span>
            <br />
            <span className="small">until it may be coated</span>
          </span>
        ) : (
          since !== null && (
            <span>
              <span className="live mono">{stopwatch(wait?.since ?? since)}</span>
              <br />
              <span className={`small ${wait ? `wait-${wait.tone}` : "slate"}`}>
                {wait?.word ?? "since the last pass"}
              </span>
            </span>
          )
        )}
      </div>
      {entry.stray && (
        <p className="refusal" role="alert">
          {entry.stray}
        </p>
      )}
      <div className={`fields ${by_time ? "three" : ""}`}>
        <EntryField
          {...f}
          name="used_ml"
          label="Paint used"
          {...(by_hand ? { hint: "if it was weighed" } : {})}
        />
        {by_time && <EntryField {...f} name="sprayed_watch_s" label="Trigger time" />}
        {!otherwise && (
          <Button
            variant="text"
            name="otherwise"
            onClick={() => setOtherwise(true)}
            sx={{ color: "text.primary" }}
          >
            Otherwise
          </Button>
        )}
        {otherwise && steps.length > 0 && (
          <Choice
            name="step"
            label="Step"
            value={entry.form.step}
            set={(step) => entry.put({ step })}
            options={[["", "as planned"] as const, ...steps.map((s) => [s, s] as const)]}
            hint=" "
          />
        )}
        {otherwise && (
          <EntryChoice {...f} name="way" label="Way" options={offered(words.way, "as planned")} />
        )}
      </div>
    </>
  );
}
