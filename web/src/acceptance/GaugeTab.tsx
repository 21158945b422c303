// The dry film by gauge: the part with its spots, each as a level, and where the gauge goes next.
import { Button } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useEntryForm } from "../api/useEntryForm";
import type { StationProps } from "../batch/station";
import { ReasonDialog } from "../batch/ReasonDialog";
import { Act } from "../ui/Act";
import { EntryField } from "../ui/EntryField";
import { Choice } from "../ui/Choice";
import { Level } from "../ui/Level";
import { WorkingSheet } from "../ui/WorkingSheet";
import { BareDialog, FoilDialog } from "./FoilDialog";
import { GaugeFile } from "./GaugeFile";
import { PlanGauge } from "./PlanGauge";
import { SpotsPicture } from "./SpotsPicture";
import { figures } from "./readings";
import { useGauge } from "./useGauge";
import "./acceptance.css";

type Gauge = Schemas["GaugeSeen"];

export function GaugeTab({ view }: StationProps<"close">) {
  const [foil, setFoil] = useState(false);
  const [bare, setBare] = useState(false);
  const [anew, setAnew] = useState(false);
  const accept = view.close.accept;
  if (!accept) return null;
  const gauge = accept.gauge;
  return (
    <div className="accept">
      <div className={gauge.foil && !gauge.foil.right ? "gauge-line off" : "gauge-line"}>
        <b>Gauge</b>
        <span>
          {gauge.foil
            ? `${gauge.foil.text} ${gauge.foil.right ? "Right." : "Not right: what it read since the last right foil is in doubt."}`
            : "on no foil yet: before the first reading, and after the last."}
        </span>
        {accept.can_read && (
          <Button variant="outlined" name="foil" aria-haspopup="dialog" onClick={() => setFoil(true)}>
            On its foil
          </Button>
        )}
        {gauge.blasted && accept.can_read && (
          <Button variant="text" name="bare" aria-haspopup="dialog" onClick={() => setBare(true)}>
            On bare steel
          </Button>
        )}
      </div>
      {!gauge.by || anew ? (
        <div className="accept-grid">
          <SpotsPicture gauge={gauge} area={1} />
          <PlanGauge view={view} done={() => setAnew(false)} />
        </div>
      ) : (
        <Read
          listens={!foil && !bare}
          view={view}
          gauge={gauge}
          canRead={accept.can_read}
          anew={accept.can_plan ? () => setAnew(true) : null}
        />
      )}
      {foil && <FoilDialog view={view} gauge={gauge} close={() => setFoil(false)} />}
      {bare && <BareDialog view={view} gauge={gauge} close={() => setBare(false)} />}
    </div>
  );
}

type ReadProps = StationProps<"close"> & {
  gauge: Gauge;
  canRead: boolean;
  /** Not while a dialog takes what the gauge reads. */ listens: boolean;
  anew: (() => void) | null;
};

function Read({ view, gauge, canRead, listens, anew }: ReadProps) {
  const spots = gauge.by === "spots";
  const [picked, setPicked] = useState<number | null>(null);
  const [moving, setMoving] = useState(false);
  const area = picked ?? gauge.next?.area_no ?? gauge.areas[0]?.no ?? 1;
  const here = gauge.areas.find((a) => a.no === area);
  const next = gauge.next;
  const zones = view.zones;
  const entry = useEntryForm(
    view.id,
    "gauge_read",
    { gauge: "", division_um: "", readings: "", zone: "" },
    {
      begin: { gauge: gauge.gauge, division_um: gauge.division ?? "" },
      keep: (f) => ({ gauge: f.gauge, division_um: f.division_um, zone: f.zone }),
      says: (f) => {
        const readings_um = figures(f.readings, f.division_um) as unknown as number[];
        if (!f.gauge.trim() || !f.division_um.trim() || readings_um.length === 0) return null;
        const by = { gauge: f.gauge, division_um: f.division_um as unknown as number };
        if (!spots) return { ...by, spots: [], reads: [{ zone: f.zone || null, readings_um }] };
        return next
          ? { ...by, reads: [], spots: [{ area_no: next.area_no, spot_no: next.spot_no, readings_um }] }
          : null;
      },
      asks: (f) => !spots || figures(f.readings, f.division_um).length >= 3,
      full: (f) => !spots || figures(f.readings, f.division_um).length >= 3,
      then: () => setPicked(null),
    },
  );
  const spoken = useGauge((said, which) => {
    const readings = `${entry.form.readings} ${said.film.text}`.trim();
    entry.put({ readings, gauge: which.name, division_um: which.division });
  }, listens && !moving);
  const left = next && here?.spots.find((s) => s.spot_no === next.spot_no);
  return (
    <div className="accept-grid">
      <div>
        <SpotsPicture gauge={gauge} area={area} />
        {gauge.areas.length > 1 && (
          <div className="areas" role="group" aria-label="Areas">
            {gauge.areas.map((a) => (
              <button
                key={a.no}
                type="button"
                name={`area-${a.no}`}
                aria-pressed={a.no === area}
                onClick={() => setPicked(a.no)}
              >
                Area {a.no} · {a.level?.word ?? "to be read"}
              </button>
            ))}
          </div>
        )}
      </div>
      <form className="do tight" onSubmit={entry.submit}>
        <div className="gauge-head">
          <b>{gauge.count_line}</b> <span className="slate">{gauge.line}</span>
          {canRead && (
            <details className="with-gauge" open={!gauge.gauge}>
              <summary>
                {entry.form.gauge
                  ? `${entry.form.gauge}, ${entry.form.division_um} a division`
                  : "Which gauge?"}
              </summary>
              <div className="read-row">
                <EntryField of={entry} name="gauge" label="Gauge" />
                <EntryField of={entry} name="division_um" label="Division" />
              </div>
            </details>
          )}
          {canRead && (next || !spots) && (
            <GaugeFile book={view.id} gauge={entry.form.gauge} division={entry.form.division_um} />
          )}
          {anew && (
            <button type="button" className="link" name="plan-anew" onClick={anew}>
              Plan anew
            </button>
          )}
        </div>
        {here && (
          <ul className="spot-rows">
            {here.spots.map((s) => (
              <li key={s.spot_no} className={s === left ? "now" : ""}>
                <b className="mono">{s.spot_no}</b>
                <span className="mono small">{s.readings.join(" ")}</span>
                {s.level ? (
                  <Level level={s.level} size="list" />
                ) : (
                  <span className="spot-place">
                    {s.place}
                    {s === left && canRead && (
                      <button
                        type="button"
                        className="link"
                        name="move-spot"
                        aria-haspopup="dialog"
                        onClick={() => setMoving(true)}
                      >
                        Cannot be reached
                      </button>
                    )}
                  </span>
                )}
              </li>
            ))}
            {here.level && (
              <li className="area-row">
                <b className="mono">=</b>
                <span className="small">{here.line}</span>
                <Level level={here.level} size="list" />
              </li>
            )}
          </ul>
        )}
        {!spots && gauge.reads.length > 0 && (
          <ul className="read-chips">
            {gauge.reads.map((r, i) => (
              <li key={`${r.entry}${i}`} className={r.word === "in" ? "" : "odd"}>
                <span className="mono">{r.film.figure}</span>
                {r.word !== "in" && <span className="small"> {r.word}</span>}
              </li>
            ))}
          </ul>
        )}
        {!spots && gauge.level && <Level level={gauge.level} />}
        {canRead && (next || !spots) && (
          <>
            <div className="read-row">
              <EntryField
                of={entry}
                name="readings"
                path="readings_um"
                label={
                  next ? `Spot ${next.area_no}.${next.spot_no}: three readings inside 1 1/2 in` : "Readings"
                }
                hint={
                  spoken
                    ? "typed with blanks between, or press the gauge: it fills in"
                    : "typed with blanks between"
                }
                autoFocus
              />
              {!spots && zones.length > 1 && (
                <Choice
                  name="zone"
                  label="Zone"
                  value={entry.form.zone}
                  set={(zone) => entry.put({ zone })}
                  options={[["", "anywhere"], ...zones.map((z) => [z.id, z.name] as const)]}
                />
              )}
              <Act
                name="take-gauge"
                word={next ? `Take spot ${next.area_no}.${next.spot_no}` : "Take them"}
                needs={!entry.ready ? (spots ? "three readings" : " ") : entry.busy && "it is being written"}
              />
            </div>
            {(entry.dry?.refusals[0] ?? entry.stray) && (
              <p className="refusal" role="alert">
                {entry.dry?.refusals[0]?.text ?? entry.stray}
              </p>
            )}
          </>
        )}
        {gauge.advice.map((text) => (
          <p key={text} className="word-tell" role="status">
            {text}
          </p>
        ))}
        {gauge.verdict === "in" && <p className="word-in">The dry film is in.</p>}
        {gauge.drawn_by && <p className="small slate">{gauge.drawn_by}</p>}
        {gauge.working && <WorkingSheet working={gauge.working} />}
      </form>
      {moving && next && (
        <ReasonDialog
          view={view}
          title={`Spot ${next.area_no}.${next.spot_no} cannot be reached`}
          text="It is drawn anew in the same area. Why can it not be reached?"
          action="Draw it anew"
          kind="move_spot"
          payload={(reason) => ({ area_no: next.area_no, spot_no: next.spot_no, reason })}
          close={() => setMoving(false)}
        />
      )}
    </div>
  );
}
