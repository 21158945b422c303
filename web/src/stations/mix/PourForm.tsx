// A pour read off the scale and typed: what is shown, the lot on the can, whether it was tared.
import { Button, TextField } from "@mui/material";
import type { Schemas } from "../../api/client";
import { useWrite } from "../../api/entry";
import { useEntryForm } from "../../api/useEntryForm";
import { useTakes } from "../../app/takes";
import { useAwake } from "../../hands/awake";
import { soundOf } from "../../hands/sounds";
import type { Seen, StationProps } from "../../batch/station";
import { Check } from "../../ui/Check";
import { EntryField } from "../../ui/EntryField";
import { Level } from "../../ui/Level";
import { useScale } from "../../ui/ScaleChoice";
import { Act } from "../../ui/Act";

const EMPTY = { reading_g: "", lot: "", tared: false };

/** The pour in hand of a pot, as it is typed. */
export function usePour(view: Seen<"mix">, pot: Schemas["MixPot"]) {
  const scale = useScale("bench");
  useAwake(pot.hand !== null);
  const entry = useEntryForm(view.id, "pour", EMPTY, {
    then: (now) => soundOf(now.mix?.pots.find((p) => p.id === pot.id)?.ratio),
    says: (f) =>
      pot.hand && f.reading_g.trim() && (pot.hand !== "hardener" || pot.combined) && scale.instrument
        ? { ...f, charge: pot.id, component: pot.hand, instrument: scale.instrument }
        : null,
  });
  return { ...entry, scale };
}

type Props = StationProps<"mix"> & {
  pot: Schemas["MixPot"];
  seen: Schemas["MixPot"];
  pour: ReturnType<typeof usePour>;
  live: Schemas["ScaleView"] | undefined;
  byScale: () => void;
};

export function PourForm({ view, pot, seen, pour, live, byScale }: Props) {
  const { tared, lot, reading_g } = pour.form;
  useTakes((row) => {
    if (row.is === "lot") pour.put({ lot: row.label });
    return row.is === "lot";
  });
  return (
    <form style={{ display: "grid", gap: 8 }} onSubmit={pour.submit}>
      <span className="label">
        Pour {pot.hand_name} {tared ? "into a tared cup" : "onto the same cup"}, pot {pot.no}
      </span>
      <div>
        {tared ? (
          <>
            <span className="live mono">{pot.to_go?.figure}</span> {pot.to_go?.unit} to pour
          </>
        ) : (
          <>
            stop at <span className="live mono">{pot.to_reading?.figure}</span> {pot.to_reading?.unit} on the
            scale
          </>
        )}
      </div>
      <div className="fields">
        <EntryField of={pour} name="reading_g" label="Scale shows" autoFocus />
        <TextField
          label="Lot on the can"
          name="lot"
          value={lot}
          onChange={(e) => pour.put({ lot: e.target.value })}
          error={Boolean(pour.error("lot"))}
          helperText={pour.error("lot") ?? " "}
          slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 200 } }}
        />
      </div>
      <div className="level-slot">
        {seen.level && reading_g.trim() !== "" && pour.view ? (
          <Level level={seen.level} size="big" />
        ) : (
          <p className="small slate">The level of this pour stands here while the figure is typed.</p>
        )}
      </div>
      <div className="actions">
        <Act
          name="take-reading"
          word="Take this reading"
          needs={
            !pour.ready && (pour.scale.instrument ? "type what the scale shows" : "choose a scale first")
          }
        />
        <WholeCan view={view} pot={pot} />
        {pour.scale.choice}
        <Check name="tared" word="tared before" on={tared} set={(on) => pour.put({ tared: on })} />
      </div>
      {pour.stray && <p className="refusal">{pour.stray}</p>}
      {live && (
        <button type="button" className="link" name="by-scale" onClick={byScale}>
          Weigh in by {live.name}
        </button>
      )}
    </form>
  );
}

/** A can of the kit, emptied whole or filled up to its line: what it holds is the maker's. */
export function WholeCan({ view, pot }: StationProps<"mix"> & { pot: Schemas["MixPot"] }) {
  const { write, refused } = useWrite(view.id);
  const component = pot.hand;
  if (!pot.whole_can || !component) return null;
  return (
    <>
      <Button
        variant="outlined"
        name="whole-can"
        onClick={() => void write("pour", { charge: pot.id, component, reading_g: 0, whole_can: true })}
      >
        {pot.to_the_line ? "Filled to its line" : "The whole can"}, {pot.whole_can.text}
      </Button>
      {refused && <span className="refusal">{refused.detail}</span>}
    </>
  );
}
