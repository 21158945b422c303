// A pass: one stamp, with the paint it took where that is known, its step and its way.
import { Button } from "@mui/material";
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

const EMPTY = { used_ml: "", sprayed_watch_s: "", step: "", way: "" as Schemas["Way"] | "" };

type Props = StationProps<"spray"> & {
  charge: string;
  zone: string | null;
  /** Seconds since the last pass. */
  since: number | null;
  /** Seconds since the view was read. */
  elapsed: number;
  /** A comb reading is in hand: then its button is the one to press. */
  combing: boolean;
};

export function StampPass({ view, charge, zone, since, elapsed, combing }: Props) {
  const words = useWords();
  const spray = view.spray;
  const entry = useEntryForm(view.id, "pass", EMPTY, {
    // The next pass goes another way as often as the same: only what was typed of paint is emptied.
    keep: (f) => ({ way: f.way }),
    says: (f) => {
      const step = f.step || spray.step_at_hand;
      return {
        charge,
        zones: zone ? [zone] : [],
        used_ml: f.used_ml.trim() ? f.used_ml : null,
        ...(f.sprayed_watch_s.trim() ? { sprayed_watch_s: f.sprayed_watch_s } : {}),
        ...(step ? { step } : {}),
        ...(f.way ? { way: f.way } : {}),
      };
    },
    // A stamp says nothing new while no figure of it is typed.
    asks: (f) => Boolean(f.used_ml.trim() || f.sprayed_watch_s.trim()),
  });
  useKeys((key) => (key === "p" ? (void entry.take(), true) : false));
  useStamp(() => void entry.take());
  useAwake(true);
  const f = { of: entry };
  const from = spray.step_from ? new Date(spray.step_from).getTime() - new Date(view.as_of).getTime() : 0;
  const wait = from / 1000 - elapsed;
  const steps = spray.steps ?? [];
  // By brush and roller nobody reads what a pass took: it comes last, may stay empty, and no trigger is timed.
  const { by_hand } = putOn(view);
  const used = (
    <EntryField
      {...f}
      name="used_ml"
      label="Paint used"
      {...(by_hand ? { hint: "if it was weighed" } : {})}
    />
  );
  const by_time = Boolean(spray.by_time) && !by_hand;
  const fields = 2 + Number(by_time) + Number(steps.length > 0);
  return (
    <>
      <div className="actions">
        <Button
          variant={combing ? "outlined" : "contained"}
          size="large"
          name="stamp-pass"
          onClick={() => void entry.take()}
          sx={{ minWidth: 190 }}
        >
          Stamp a pass · p
        </Button>
        {since !== null && (
          <span>
            <span className="live mono">{stopwatch(since)}</span>{" "}
            <span className="slate">since pass {spray.passes.length}</span>
          </span>
        )}
      </div>
      {entry.stray && (
        <p className="refusal" role="alert">
          {entry.stray}
        </p>
      )}
      {spray.step_line && (
        <p role="status">
          <b>{spray.step_line}</b>
          {spray.step_from && wait > 0 && (
            <span className="word-tell"> · still wet by the sheet: wait {stopwatch(wait)}</span>
          )}
        </p>
      )}
      <div className={`fields ${["", "", "", "three", "four"][fields] ?? ""}`}>
        {!by_hand && used}
        {by_time && <EntryField {...f} name="sprayed_watch_s" label="Trigger time" hint="or by the watch" />}
        {steps.length > 0 && (
          <Choice
            name="step"
            label="Step"
            value={entry.form.step || (spray.step_at_hand ?? "")}
            set={(step) => entry.put({ step })}
            options={steps.map((s) => [s, s] as const)}
            hint=" "
          />
        )}
        <EntryChoice {...f} name="way" label="Way" options={offered(words.way, "not said")} />
        {by_hand && used}
      </div>
    </>
  );
}
