// The gauge on its certified foil, or on the bare surface: what it reads there decides what its other readings are worth.
import type { Schemas } from "../api/client";
import { useEntryForm } from "../api/useEntryForm";
import type { StationProps } from "../batch/station";
import { EntryField } from "../ui/EntryField";
import { FormDialog } from "../ui/FormDialog";
import { figures } from "./readings";
import { useGauge } from "./useGauge";

type Props = StationProps<"close"> & { gauge: Schemas["GaugeSeen"]; close: () => void };

export function FoilDialog({ view, gauge, close }: Props) {
  const entry = useEntryForm(
    view.id,
    "gauge_foil",
    { gauge: "", division_um: "", foil_um: "", readings: "" },
    {
      begin: {
        gauge: gauge.gauge,
        division_um: gauge.division ?? "",
        foil_um: gauge.foil?.foil ?? "",
      },
      says: (f) =>
        f.gauge.trim() && f.foil_um.trim() && f.division_um.trim() && f.readings.trim()
          ? {
              gauge: f.gauge,
              foil_um: f.foil_um,
              division_um: f.division_um,
              readings_um: figures(f.readings, f.division_um) as unknown as number[],
            }
          : null,
      then: close,
    },
  );
  const spoken = useGauge((said, which) =>
    entry.put({
      readings: `${entry.form.readings} ${said.film.text}`.trim(),
      gauge: which.name,
      division_um: which.division,
    }),
  );
  return (
    <FormDialog
      title="The gauge on its foil"
      action="Take it"
      name="take-foil"
      busy={entry.busy}
      needs={!entry.ready && "gauge, division, foil and what it reads"}
      submit={() => void entry.take()}
      close={close}
    >
      <EntryField of={entry} name="gauge" label="Gauge" hint="its name or number" />
      <EntryField of={entry} name="division_um" label="One division of it" hint="such as 1 µm or 0.1 mil" />
      <EntryField of={entry} name="foil_um" label="The foil is" hint="as certified" />
      <EntryField
        of={entry}
        name="readings"
        path="readings_um"
        label="The gauge reads"
        hint={spoken ? "or press the gauge: it fills in" : "one reading, or some with blanks between"}
      />
      {(entry.dry?.refusals[0] ?? entry.stray) && (
        <p className="refusal" role="alert">
          {entry.dry?.refusals[0]?.text ?? entry.stray}
        </p>
      )}
    </FormDialog>
  );
}

export function BareDialog({ view, gauge, close }: Props) {
  const entry = useEntryForm(
    view.id,
    "gauge_bare",
    { gauge: "", division_um: "", readings: "" },
    {
      begin: { gauge: gauge.gauge, division_um: gauge.division ?? "" },
      says: (f) =>
        f.gauge.trim() && f.division_um.trim() && f.readings.trim()
          ? {
              gauge: f.gauge,
              division_um: f.division_um,
              bare_um: figures(f.readings, f.division_um) as unknown as number[],
            }
          : null,
      then: close,
    },
  );
  const spoken = useGauge((said, which) =>
    entry.put({
      readings: `${entry.form.readings} ${said.film.text}`.trim(),
      gauge: which.name,
      division_um: which.division,
    }),
  );
  return (
    <FormDialog
      title="The gauge on bare steel"
      action="Take it"
      name="take-bare"
      busy={entry.busy}
      needs={!entry.ready && "gauge, division and what it reads"}
      submit={() => void entry.take()}
      close={close}
    >
      <p>
        Blasted steel makes a gauge read too much. Read it bare, at ten places or more; the mean is taken off.
      </p>
      <EntryField of={entry} name="gauge" label="Gauge" hint="its name or number" />
      <EntryField of={entry} name="division_um" label="One division of it" hint="such as 1 µm or 0.1 mil" />
      <EntryField
        of={entry}
        name="readings"
        path="bare_um"
        label="The gauge reads"
        hint={spoken ? "or press the gauge: it fills in" : "with blanks between"}
      />
      {(entry.dry?.refusals[0] ?? entry.stray) && (
        <p className="refusal" role="alert">
          {entry.dry?.refusals[0]?.text ?? entry.stray}
        </p>
      )}
    </FormDialog>
  );
}
