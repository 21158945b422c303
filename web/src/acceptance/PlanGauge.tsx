// How the dry film is accepted by gauge, and against what: said once, before anything is read.
import { offered, useWords } from "../api/forms";
import type { Schemas } from "../api/client";
import { useEntryForm } from "../api/useEntryForm";
import type { StationProps } from "../batch/station";
import { Act } from "../ui/Act";
import { EntryChoice, EntryField } from "../ui/EntryField";

type By = Schemas["AcceptBy"];
type Form = {
  by: By | "";
  dry_min_um: string;
  dry_max_um: string;
  level: string;
  roughness: Schemas["Roughness"] | "";
  beneath_min_um: string;
  beneath_max_um: string;
};
const EMPTY: Form = {
  by: "",
  dry_min_um: "",
  dry_max_um: "",
  level: "",
  roughness: "",
  beneath_min_um: "",
  beneath_max_um: "",
};
const BY_GAUGE: By[] = ["spots", "eighty_twenty", "least_most"];

export function PlanGauge({ view, done }: StationProps<"close"> & { done?: () => void }) {
  const words = useWords();
  const accept = view.close.accept;
  const gauge = accept?.gauge;
  const asked = accept?.methods.find((m) => BY_GAUGE.includes(m.by))?.by ?? "spots";
  const entry = useEntryForm(view.id, "plan_acceptance", EMPTY, {
    begin: {
      by: gauge?.by ?? asked,
      dry_min_um: gauge?.least?.text ?? "",
      dry_max_um: gauge?.most?.text ?? "",
    },
    says: (f) =>
      f.by && f.dry_min_um.trim()
        ? {
            by: f.by,
            dry_min_um: f.dry_min_um,
            dry_max_um: f.by === "eighty_twenty" && !f.dry_max_um.trim() ? null : f.dry_max_um,
            level: f.by === "spots" && f.level ? Number(f.level) : null,
            roughness: f.roughness || null,
            beneath_min_um: f.beneath_min_um || null,
            beneath_max_um: f.beneath_max_um || null,
          }
        : null,
    then: () => done?.(),
  });
  if (!accept || !gauge) return null;
  if (!accept.can_plan)
    return (
      <p className="slate">
        {accept.can_read
          ? "A lead, an inspector or the owner says first how it is measured, and against what."
          : "The dry film is read once every pass is on."}
      </p>
    );
  const spots = entry.form.by === "spots";
  const nominal = entry.form.by === "eighty_twenty";
  return (
    <form className="do" onSubmit={entry.submit}>
      <span className="label">How is the dry film accepted, and against what?</span>
      <div className="fields">
        <EntryChoice
          of={entry}
          name="by"
          label="By"
          options={offered(words.accept_by.filter((w) => BY_GAUGE.includes(w.value)))}
        />
        {spots && (
          <EntryChoice
            of={entry}
            name="level"
            label="Level"
            options={[
              ["", "3, the usual one"],
              ["1", "1: spots keep the band itself"],
              ["2", "2: spots to 120 % of the most"],
              ["4", "4: spots to 150 %"],
              ["5", "5: any most of a spot"],
            ]}
          />
        )}
        <EntryField of={entry} name="dry_min_um" label={nominal ? "Nominal" : "Least dry film"} />
        <EntryField
          of={entry}
          name="dry_max_um"
          label="Most dry film"
          hint={nominal ? "three times the nominal when empty" : undefined}
        />
        {gauge.blasted && (
          <EntryChoice
            of={entry}
            name="roughness"
            label="Blasted, and how rough"
            options={offered(words.roughness, "read bare instead")}
          />
        )}
        {gauge.beneath && (
          <>
            <EntryField of={entry} name="beneath_min_um" label="Coats beneath, least" />
            <EntryField of={entry} name="beneath_max_um" label="Coats beneath, most" />
          </>
        )}
      </div>
      <div className="actions">
        <Act
          name="plan-gauge"
          word={spots ? "Draw the spots" : "Begin to read"}
          needs={!entry.ready ? "say against what" : entry.busy && "it is being written"}
        />
        {entry.stray && <span className="refusal">{entry.stray}</span>}
      </div>
      <p className="small slate">
        {spots
          ? "Spots are drawn by lot out of the log itself: nobody chooses them."
          : "Readings are taken all over the part, typed, from a file, or spoken by the gauge."}
      </p>
    </form>
  );
}
