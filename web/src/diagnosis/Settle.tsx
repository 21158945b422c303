// What a defect came of, said by a lead, an inspector or the owner: it weighs in when the next one like it is looked at.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useWrite } from "../api/entry";
import type { StationProps } from "../batch/station";
import { Choice } from "../ui/Choice";
import { FormDialog } from "../ui/FormDialog";
import { Words } from "../ui/Words";

type Cause = Schemas["Cause"];

export function Settle({
  view,
  defect,
  close,
}: StationProps<"close"> & { defect: Schemas["DefectView"]; close: () => void }) {
  const { write, busy, refused } = useWrite(view.id);
  const [cause, setCause] = useState<Cause>(
    defect.settled?.cause ?? defect.causes[0]?.cause ?? "something_else",
  );
  const [text, setText] = useState("");
  const save = async () => {
    if (await write("defect_settled", { defect: defect.entry, cause, text: text.trim() })) close();
  };
  return (
    <FormDialog
      title={`${defect.name}: what did it come of?`}
      action="Settle it"
      name="save-settled"
      busy={busy}
      submit={() => void save()}
      close={close}
    >
      <Choice
        name="settled-cause"
        label="Cause"
        value={cause}
        set={(v) => setCause(v as Cause)}
        options={[
          ...defect.causes.map((c) => [c.cause, c.name] as const),
          ["something_else", "Something else"] as const,
        ]}
      />
      <Words name="settled-text" label="How one knows" value={text} set={setText} most={2000} />
      <p className="small slate">
        It is kept with the batch. From five outcomes on, what this shop found weighs in and says so.
      </p>
      {refused && <p className="refusal">{refused.detail}</p>}
    </FormDialog>
  );
}
