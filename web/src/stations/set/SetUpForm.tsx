// The form of a try: pressures, where the stream bends or what the pattern looks like, knobs.
import { Button } from "@mui/material";
import type { Schemas } from "../../api/client";
import { offered, useWords } from "../../api/forms";
import type { useEntryForm } from "../../api/useEntryForm";
import type { StationProps } from "../../batch/station";
import { LiveGauges, useGauges } from "../../rigs/LiveGauges";
import { EntryChoice, EntryField } from "../../ui/EntryField";
import { FileField } from "../../ui/FileField";
import { Choice } from "../../ui/Choice";
import { Level } from "../../ui/Level";
import { CoatSteps } from "./CoatSteps";
import { SetUpTable } from "./SetUpTable";
import type { SetUpTexts } from "./SetUps";
import { Act } from "../../ui/Act";

type Props = StationProps<"set"> & {
  entry: ReturnType<typeof useEntryForm<"set_up", SetUpTexts>>;
  seen: Schemas["SetView"];
  stream: Schemas["SetView"]["stream"];
  more: boolean;
  setMore: (more: boolean) => void;
  /** Why the proposed rig was not taken. */
  refused: string | null;
};

export function SetUpForm({ view, entry, seen, stream, more, setMore, refused }: Props) {
  const words = useWords();
  const set = view.set;
  const gauges = useGauges(set.rig);
  const live = gauges?.pot;
  const air = entry.form.atomizing_kpa.trim() !== "";
  const stop = entry.dry?.refusals.find((r) => r.code === "over-rating");
  const f = { of: entry };
  // Of two streams the one that is looked at: as chosen, else the one that is next.
  const flowed = entry.form.flowed || (set.flows_next ?? "");
  const asks = (set.asks ?? []).filter((a) => !flowed || a.of.length === 0 || a.of.includes(flowed));
  const first = asks.filter((a) => a.first);
  const fields = (of: Schemas["SetAsk"][]) =>
    of.map((a, i) =>
      a.field === "flowed" ? (
        <Choice
          key={a.field}
          name="flowed"
          label={a.label}
          value={flowed}
          set={(v) => entry.put({ flowed: v })}
          options={offered(words.flowed)}
          hint=" "
        />
      ) : (
        <EntryField
          {...f}
          key={a.field}
          name={a.field as keyof SetUpTexts}
          label={a.label}
          hint={a.hint}
          autoFocus={a.first && i === 0}
        />
      ),
    );
  return (
    <form className="do" onSubmit={entry.submit}>
      {set.advice && (
        <p className={`advice ${set.advice.down ? "down" : ""}`}>
          {set.advice.to && <b className="live mono">{set.advice.to.text}</b>}
          <span>{set.advice.text}</span>
        </p>
      )}
      <span className="label">
        {set.ladder
          ? "A short burst, square to the paper. What is the pattern?"
          : flowed === "both"
            ? "Both together, then the air. A short burst on paper: what is the pattern?"
            : set.pressed
              ? "Full trigger, atomizing air off. Where does the stream start to bend?"
              : "Fan first, then the air. A short burst on paper: what is the pattern?"}
      </span>
      <div className={first.length > 3 ? "fields four" : "fields three"}>{fields(first)}</div>
      {entry.form.pattern === "lopsided" && (
        <EntryChoice
          {...f}
          name="cap"
          label="With the cap turned half round it"
          options={offered(words.cap_turn, "not turned yet")}
        />
      )}
      {more && (
        <>
          <div className="fields three">
            <EntryChoice
              {...f}
              name="step"
              label="For the step"
              options={[
                ["", "the whole coat"],
                ...(set.step_names ?? []).map((s): [string, string] => [s, s]),
              ]}
            />
            {fields(asks.filter((a) => !a.first))}
          </div>
          <FileField
            label="Picture of the pattern"
            accept="image/png,image/jpeg"
            taken={entry.form.photo}
            take={(photo) => entry.put({ photo })}
          />
        </>
      )}
      <div className="actions">
        <Act
          name="take-try"
          word="Take this try"
          needs={!entry.ready && (set.pressed ? "type a pressure" : "type the air, a knob or the pattern")}
        />
        <Button variant="outlined" name="more-try" onClick={() => setMore(!more)} aria-expanded={more}>
          {more ? "Fewer settings" : set.pressed ? "Step, knobs, picture" : "Step, texture, picture"}
        </Button>
        {(entry.stray ?? refused) && <span className="refusal">{entry.stray ?? refused}</span>}
      </div>
      {air && (
        <div className="fields three">
          <EntryChoice {...f} name="air_at" label="Air read" options={offered(words.read_at, "not said")} />
          <EntryChoice
            {...f}
            name="air_how"
            label="Read with"
            options={offered(words.read_how, "not said")}
          />
        </div>
      )}
      {live && (
        <div className="gauge-line">
          <LiveGauges gauges={gauges} small />
          <Button variant="outlined" name="take-gauge" onClick={() => entry.put({ pot_kpa: live.text })}>
            Take {live.text}
          </Button>
        </div>
      )}
      {/* Under the button: these come and go with each answer, and the button must not move under a finger. */}
      {stream && !set.ladder && <Level level={stream.level} size="big" />}
      {stop && (
        <p className="refusal" role="alert">
          <b>Stop. </b>
          {stop.text}
        </p>
      )}
      {seen.notes.map((n) => (
        <p key={n} className="word-tell">
          {n}
        </p>
      ))}
      {set.drift && <p className="word-tell">{set.drift}</p>}
      <CoatSteps steps={set.steps} />
      <SetUpTable setUps={set.set_ups} ladder={set.ladder} />
    </form>
  );
}
