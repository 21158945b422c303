// A defect is written down: chosen by its picture, then where it is, what else is seen, a photo.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useWrite } from "../api/entry";
import type { StationProps } from "../batch/station";
import { Act } from "../ui/Act";
import { Choice } from "../ui/Choice";
import { FileField } from "../ui/FileField";
import { Words } from "../ui/Words";
import { SymptomPicture, type Symptom } from "./SymptomPicture";

type Seen = Schemas["SymptomSeen"];
const PHOTOS = "image/jpeg,image/png,image/webp";

export function ChooseSymptom({ symptoms, choose }: { symptoms: Seen[]; choose: (s: Symptom) => void }) {
  return (
    <div className="symptoms">
      {symptoms.map((s) => (
        <button key={s.symptom} type="button" name={`symptom-${s.symptom}`} onClick={() => choose(s.symptom)}>
          <SymptomPicture symptom={s.symptom} />
          <span>
            <b>{s.name}</b>
            <span className="small slate">{s.seen_as}</span>
          </span>
        </button>
      ))}
    </div>
  );
}

export function WriteDefect({
  view,
  symptom,
  back,
  written,
}: StationProps<"close"> & { symptom: Seen; back: () => void; written: () => void }) {
  const { write, busy, refused } = useWrite(view.id);
  const [where, setWhere] = useState("");
  const [text, setText] = useState("");
  const [photo, setPhoto] = useState<Schemas["Attached"] | null>(null);
  const take = async () => {
    const said = { symptom: symptom.symptom, zone: where || null, text: text.trim() || null, photo };
    if (await write("defect_seen", said)) written();
  };
  return (
    <div className="defect-grid">
      <div className="defect-seen">
        <SymptomPicture symptom={symptom.symptom} name={symptom.name} large />
        <p>
          <b>{symptom.name}</b>: {symptom.seen_as}
        </p>
      </div>
      <div className="do tight">
        <div className="fields tight-fields">
          {view.zones.length > 0 && !symptom.at_the_gun && (
            <Choice
              name="defect-zone"
              label="Where"
              value={where}
              set={setWhere}
              options={[["", "all over"], ...view.zones.map((z) => [z.id, z.name] as const)]}
            />
          )}
          <Words name="defect-text" label="What else is seen" value={text} set={setText} most={2000} />
        </div>
        <div className="actions">
          <FileField label="Photo" accept={PHOTOS} taken={photo} take={setPhoto} />
          <Act
            name="write-defect"
            word="Write it down"
            needs={busy && "it is being written"}
            press={() => void take()}
          />
          <Act name="other-symptom" word="Something else" quiet needs={null} press={back} />
          {refused && <span className="refusal">{refused.detail}</span>}
        </div>
      </div>
    </div>
  );
}
