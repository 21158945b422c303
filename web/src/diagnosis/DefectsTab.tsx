// Defects: what is seen, chosen by its picture, with its likely causes, what to look at next, what it came of, and its repair.
import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "@tanstack/react-router";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { defectsQuery, meQuery } from "../api/queries";
import type { StationProps } from "../batch/station";
import { Act } from "../ui/Act";
import { shopTime } from "../ui/clock";
import { Failed, Loading } from "../ui/states";
import { CausesList } from "./CausesList";
import { LookNext } from "./LookNext";
import { ChooseSymptom, WriteDefect } from "./NewDefect";
import { Settle } from "./Settle";
import { SymptomPicture, type Symptom } from "./SymptomPicture";
import "./diagnosis.css";

type Defect = Schemas["DefectView"];
type Shown = "new" | string | null;

export function DefectsTab({ view }: StationProps<"close">) {
  const found = useQuery(defectsQuery(view.id));
  const [shown, setShown] = useState<Shown>(null);
  const [symptom, setSymptom] = useState<Symptom | null>(null);
  if (found.isPending) return <Loading what="the defects" />;
  if (found.error && !found.data) return <Failed error={found.error} again={() => void found.refetch()} />;
  const { defects, symptoms, repairs, part } = found.data;
  const defect = defects.find((d) => d.entry === shown) ?? (shown === "new" ? undefined : defects[0]);
  const chosen = symptoms.find((s) => s.symptom === symptom);
  const about = (d: Defect) => `${d.name}${d.zone_name ? `, ${d.zone_name}` : ""}`;
  return (
    <div className="defects">
      <div className="defect-chips" role="group" aria-label="Defects">
        {!defect && <span className="label">{chosen ? "Where, and what else?" : "What is seen?"}</span>}
        {defects.map((d) => (
          <button
            key={d.entry}
            type="button"
            name={`defect-${d.symptom}`}
            aria-pressed={d === defect}
            onClick={() => setShown(d.entry)}
          >
            {about(d)}
            {d.settled && <span className="small slate"> settled</span>}
          </button>
        ))}
        {defects.length > 0 && (
          <button type="button" name="defect-new" aria-pressed={!defect} onClick={() => setShown("new")}>
            Another defect
          </button>
        )}
        {repairs && (
          <span>
            {repairs.text}.{" "}
            <Link to="/batches/$id" params={{ id: repairs.batch }} search={{ at: 6 }}>
              Open it
            </Link>
          </span>
        )}
        {part && (
          <Link to="/parts/$id" params={{ id: part }} className="export">
            Story of the part
          </Link>
        )}
      </div>
      {defect ? (
        <One view={view} defect={defect} of={found.data} />
      ) : chosen ? (
        <WriteDefect
          view={view}
          symptom={chosen}
          back={() => setSymptom(null)}
          written={() => {
            setSymptom(null);
            setShown(null);
          }}
        />
      ) : (
        <ChooseSymptom symptoms={symptoms} choose={setSymptom} />
      )}
    </div>
  );
}

function One({ view, defect, of }: StationProps<"close"> & { defect: Defect; of: Schemas["DefectsView"] }) {
  const me = useQuery(meQuery).data;
  const [settling, setSettling] = useState(false);
  return (
    <div className="defect-grid">
      <div className="defect-seen">
        {defect.photo ? (
          <img
            src={`/api/v1/photos/${defect.photo.sha256}/small`}
            alt={`${defect.name}, as seen`}
            className="kept-photo"
          />
        ) : (
          <SymptomPicture symptom={defect.symptom} name={defect.name} large />
        )}
        <p className="small">
          {defect.by}, {shopTime(defect.at, me?.zone ?? "UTC", view.as_of)}
          {defect.text && `: ${defect.text}`}
        </p>
        {defect.settled ? (
          <p>
            <b>{defect.settled.name}.</b> {defect.settled.text}{" "}
            <span className="small slate">{defect.settled.by}</span>
          </p>
        ) : null}
        {defect.repaired_by.map((r) => (
          <p key={r.batch} className="small">
            Repaired by{" "}
            <Link to="/batches/$id" params={{ id: r.batch }} search={{}}>
              {r.text}
            </Link>
          </p>
        ))}
        <p className="small">
          <b>Mend.</b> {defect.mend} The data sheet rules.
        </p>
        <div className="actions">
          <BeginRepair view={view} defect={defect} of={of} />
          {of.can_settle && (
            <Act
              name="settle"
              word={defect.settled ? "Settle anew" : "Settle"}
              quiet
              needs={null}
              press={() => setSettling(true)}
            />
          )}
        </div>
      </div>
      <div className="defect-why">
        <p className="says">{defect.says}</p>
        {defect.next && (
          <LookNext key={defect.next.look} view={view} defect={defect.entry} next={defect.next} />
        )}
        <CausesList view={view} causes={defect.causes} />
      </div>
      {settling && <Settle view={view} defect={defect} close={() => setSettling(false)} />}
    </div>
  );
}

/** A repair is a batch of its own on that zone: clean, scuff, spray. */
function BeginRepair({
  view,
  defect,
  of,
}: StationProps<"close"> & { defect: Defect; of: Schemas["DefectsView"] }) {
  const navigate = useNavigate();
  const zone = view.zones.find((z) => z.id === defect.zone);
  const search = {
    part: of.part_name,
    coat: of.repair_coat,
    repairs: `${view.id}/${defect.entry}`,
    ...(of.sheet ? { sheet: of.sheet } : {}),
    ...(zone?.area_m2 ? { zones: zone.name, area: `${Math.round(zone.area_m2 * 100) / 100} m2` } : {}),
  };
  return (
    <Act
      name="begin-repair"
      word="Begin repair"
      needs={null}
      press={() => void navigate({ to: "/begin", search })}
    />
  );
}
