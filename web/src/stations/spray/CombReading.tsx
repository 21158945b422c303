// A reading of the comb: the last wetted tooth, with what it makes of the film before it is taken.
import { Button } from "@mui/material";
import type { Schemas } from "../../api/client";
import { useEntryForm } from "../../api/useEntryForm";
import { soundOf } from "../../hands/sounds";
import type { Seen, StationProps } from "../../batch/station";
import { Choice } from "../../ui/Choice";
import { Comb } from "./Comb";

/** A reading in hand: `tooth_um` null: none; 0: no tooth was wet. */
export function useComb(view: Seen<"spray">, zone: string | null, of: Schemas["CombOf"]) {
  const teeth_um = view.spray.teeth.map((t) => t.tooth_um);
  return useEntryForm(
    view.id,
    "comb",
    { tooth_um: null as number | null },
    {
      then: (now) => soundOf(now.spray?.total),
      says: (f) => (f.tooth_um === null ? null : { zone, tooth_um: f.tooth_um || null, teeth_um, of }),
    },
  );
}

type Props = StationProps<"spray"> & {
  entry: ReturnType<typeof useComb>;
  zone: string | null;
  of: Schemas["CombOf"];
  setOf: (of: Schemas["CombOf"]) => void;
};

export function CombReading({ view, entry, zone, of, setOf }: Props) {
  // With more than one zone the button that takes a reading says of which: the picture may be off the screen.
  const where = view.zones.length > 1 ? view.zones.find((z) => z.id === zone)?.name : undefined;
  const seen = !entry.dry?.stale && entry.view?.spray?.total?.shown.text;
  const tooth = entry.form.tooth_um;
  return (
    <>
      <span className="label">Press the comb square into the wet film. Tap the last wetted tooth</span>
      <Comb spray={view.spray} tooth={tooth} onTooth={(tooth_um) => entry.put({ tooth_um })} />
      {tooth !== null && (
        <div className="actions">
          <Button variant="contained" name="take-comb" onClick={() => void entry.take()}>
            Take {seen || "this reading"}
            {where && ` · ${where}`}
          </Button>
          <Button variant="outlined" onClick={() => entry.put({ tooth_um: null })}>
            Leave it
          </Button>
          <Choice
            name="comb-of"
            label="It reads"
            value={of}
            set={setOf}
            options={[
              ["total", "the total so far"],
              ["this_pass", "this pass alone"],
            ]}
          />
          {entry.dry?.refusals[0] && <span className="refusal">{entry.dry.refusals[0].text}</span>}
          {entry.stray && <span className="refusal">{entry.stray}</span>}
        </div>
      )}
    </>
  );
}
