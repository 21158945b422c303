// The coat, looked at at its stages: each with its photo, beside the sample it should match.
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useWrite } from "../api/entry";
import type { StationProps } from "../batch/station";
import { shopTime } from "../ui/clock";
import { useQuery } from "@tanstack/react-query";
import { meQuery } from "../api/queries";
import { Act } from "../ui/Act";
import { Choice } from "../ui/Choice";
import { FileField } from "../ui/FileField";
import { Words } from "../ui/Words";
import "./acceptance.css";

type Stage = Schemas["StageSeen"];
type Photo = Schemas["Attached"];
const PHOTOS = "image/jpeg,image/png,image/webp";

export function Stages({ view }: StationProps<"close">) {
  const accept = view.close.accept;
  const [at, setAt] = useState<Stage["stage"] | null>(null);
  const zone = useQuery(meQuery).data?.zone ?? "UTC";
  if (!accept) return null;
  const { stages, sample } = accept.look;
  // What the sheet asks stands first; the others are there to be taken all the same.
  const rows = [...stages.filter((s) => s.asked), ...stages.filter((s) => !s.asked)];
  const chosen =
    rows.find((s) => s.stage === at) ??
    rows.find((s) => s.asked && s.looks.length === 0) ??
    rows.find((s) => s.asked) ??
    rows.at(-1);
  const seen = chosen?.looks.at(-1);
  return (
    <div className="accept-grid wide">
      <div>
        <span className="label">Stages it is looked at</span>
        <ul className="stage-rows">
          {rows.map((s) => (
            <li key={s.stage}>
              <button
                type="button"
                name={`stage-${s.stage}`}
                aria-pressed={s === chosen}
                onClick={() => setAt(s.stage)}
              >
                <span>{s.name}</span>
                <span className={`small ${tone(s)}`}>{word(s)}</span>
              </button>
            </li>
          ))}
        </ul>
      </div>
      <div className="do tight">
        <div className="side-by-side">
          <figure>
            {seen?.photo ? (
              <img
                src={`/api/v1/photos/${seen.photo.sha256}/small`}
                alt={`${chosen?.name ?? ""}, as seen`}
                className="kept-photo"
              />
            ) : (
              <div className="no-photo slate">no photo of this stage yet</div>
            )}
            <figcaption className="small">
              {seen
                ? `${seen.good ? "Right" : "Not right"}${seen.zone ? `, ${seen.zone}` : ""}, ${seen.by}, ${shopTime(seen.at, zone, view.as_of)}${seen.text ? `: ${seen.text}` : ""}`
                : "As it looks"}
            </figcaption>
          </figure>
          <figure>
            {sample?.photo ? (
              <img
                src={`/api/v1/photos/${sample.photo.sha256}/small`}
                alt={`The sample: ${sample.text}`}
                className="kept-photo"
              />
            ) : (
              <div className="no-photo slate">no photo of the sample yet</div>
            )}
            <figcaption className="small">
              {sample ? `Should match ${sample.text}` : "The sample it should match"}
            </figcaption>
          </figure>
        </div>
        {chosen && accept.can_read && <OneLook key={chosen.stage} view={view} stage={chosen} />}
        {accept.can_read && <Sample view={view} text={sample?.text ?? ""} />}
      </div>
    </div>
  );
}

const word = (s: Stage) => {
  const bad = s.looks.find((l) => !l.good);
  if (bad) return "not right";
  if (s.looks.length > 0) return "right";
  return s.asked ? "the sheet asks it" : "not asked";
};
const tone = (s: Stage) => {
  if (s.looks.some((l) => !l.good)) return "word-out";
  return s.looks.length > 0 ? "word-in" : s.asked ? "word-tell" : "slate";
};

function OneLook({ view, stage }: StationProps<"close"> & { stage: Stage }) {
  const { write, busy, refused } = useWrite(view.id);
  const [text, setText] = useState("");
  const [where, setWhere] = useState("");
  const [photo, setPhoto] = useState<Photo | null>(null);
  const take = async (good: boolean) => {
    const said = { stage: stage.stage, good, zone: where || null, text: text.trim() || null, photo };
    if (await write("stage_look", said)) {
      setText("");
      setPhoto(null);
    }
  };
  return (
    <>
      <div className="fields tight-fields">
        {view.zones.length > 1 && (
          <Choice
            name="look-zone"
            label="Where"
            value={where}
            set={setWhere}
            options={[["", "everywhere"], ...view.zones.map((z) => [z.id, z.name] as const)]}
          />
        )}
        <Words
          name="look-text"
          label="What is seen"
          value={text}
          set={setText}
          most={2000}
          hint="needed where it is not right"
        />
      </div>
      <div className="actions">
        <FileField label="Photo" accept={PHOTOS} taken={photo} take={setPhoto} />
        <Act
          name="look-right"
          word="It is right"
          needs={busy && "it is being written"}
          press={() => void take(true)}
        />
        <Act
          name="look-wrong"
          word="Not right"
          quiet
          needs={!text.trim() ? "say what is seen" : busy && "it is being written"}
          press={() => void take(false)}
        />
        {refused && <span className="refusal">{refused.detail}</span>}
      </div>
    </>
  );
}

function Sample({ view, text }: StationProps<"close"> & { text: string }) {
  const { write, busy, refused } = useWrite(view.id);
  const [said, setSaid] = useState(text);
  const [photo, setPhoto] = useState<Photo | null>(null);
  return (
    <details className="sample">
      <summary>The sample it should match</summary>
      <div className="actions">
        <Words name="sample-text" label="Which sample" value={said} set={setSaid} most={2000} />
        <FileField label="Its photo" accept={PHOTOS} taken={photo} take={setPhoto} />
        <Act
          name="take-sample"
          word="Keep the sample"
          quiet
          needs={!said.trim() ? "say which" : busy && "it is being written"}
          press={() => void write("control_sample", { text: said, photo })}
        />
        {refused && <span className="refusal">{refused.detail}</span>}
      </div>
    </details>
  );
}
