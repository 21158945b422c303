// Spray: start, stamp a pass, tap the last wetted tooth of the comb.
import { Button, MenuItem, TextField } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useKeys } from "../../app/keys";
import type { Schemas } from "../../api/client";
import { at, useDry, useWrite } from "../../api/entry";
import { meQuery } from "../../api/queries";
import { emptying } from "../../api/turns";
import { minutes, shopTime, stopwatch, useElapsed } from "../../ui/clock";
import { Field } from "../../ui/Field";
import { Level } from "../../ui/Level";
import { Empty } from "../../ui/states";
import { WorkingSheet } from "../../ui/WorkingSheet";
import { PotPicture } from "../../rack/Rack";
import type { StationProps } from "../../batch/station";
import { Discard } from "../mix/Discard";
import { ReasonDialog } from "../../batch/ReasonDialog";

export function SprayStation({ view }: StationProps) {
  const me = useQuery(meQuery).data;
  const rate = me?.clock_rate ?? 1;
  const elapsed = useElapsed(view.received, rate);
  const { write, refused } = useWrite(view.id);
  const [zone, setZone] = useState<string | null>(view.zones[0]?.id ?? null);
  const [tooth, setTooth] = useState<number | null>(null);
  const [of, setOf] = useState("total");
  const [used, setUsed] = useState("");
  const [pulled, setPulled] = useState("");
  const [discarding, setDiscarding] = useState<{ id: string; no: number } | null>(null);
  const spray = view.spray;
  // With more than one zone the button that takes a reading says of which: the picture may be off the screen.
  const where = view.zones.length > 1 ? view.zones.find((z) => z.id === zone)?.name : undefined;
  const stamp = () => {
    if (!spray.charge) return;
    const zones = zone ? [zone] : [];
    const sprayed = pulled.trim() ? { sprayed_watch_s: pulled } : {};
    const answer = write("pass", { charge: spray.charge, zones, used_ml: used || null, ...sprayed });
    void emptying(used, "", setUsed, answer);
    void emptying(pulled, "", setPulled, answer);
  };
  useKeys((key) => (key === "p" ? (stamp(), true) : false));
  const teeth = spray.teeth.map((t) => t.tooth_um);
  const combPayload =
    tooth === null ? null : { zone, tooth_um: tooth === 0 ? null : tooth, teeth_um: teeth, of };
  const dry = useDry(view.id, "comb", combPayload);
  const seen = dry?.view?.spray ?? spray;
  const passDry = useDry(
    view.id,
    "pass",
    spray.charge && used.trim() ? { charge: spray.charge, zones: zone ? [zone] : [], used_ml: used } : null,
  );
  const line = view.pots.find((p) => p.vessel === "line");
  const live = view.pots.find((p) => p.id === (spray.charge ?? spray.start));
  const since = spray.last_pass
    ? (new Date(view.as_of).getTime() - new Date(spray.last_pass).getTime()) / 1000 + elapsed
    : null;
  if (!spray.charge && !spray.start && spray.passes.length === 0) {
    return (
      <Empty>
        Nothing to spray yet.{" "}
        {view.at_gun
          ? "Open the charge at Prove."
          : "Mix a pot at Mix; it stands here when it may be sprayed."}
      </Empty>
    );
  }
  return (
    <>
      <div className="do">
        {!spray.charge && spray.start && (
          <StartPot
            view={view}
            start={() => void write("start_spraying", { charge: spray.start })}
            elapsed={elapsed}
          />
        )}
        {refused && (
          <p className="refusal" role="alert">
            {refused.detail}
          </p>
        )}
        {spray.charge && (
          <>
            <div className="actions">
              <Button
                variant={tooth === null ? "contained" : "outlined"}
                size="large"
                name="stamp-pass"
                onClick={stamp}
                sx={{ minWidth: 190 }}
              >
                Stamp a pass · p
              </Button>
              {since !== null && (
                <span>
                  <span className="live mono">{stopwatch(since)}</span>{" "}
                  <span className="slate">since pass {spray.passes.length}</span>
                </span>
              )}
            </div>
            <div className={view.mix.plan?.entered ? "fields three" : "fields"}>
              <Field
                name="used_ml"
                label="Paint used"
                value={used}
                onChange={setUsed}
                understood={passDry?.understood}
                error={at("used_ml", passDry?.refusals)}
              />
              {view.mix.plan?.entered && (
                <Field
                  name="sprayed_watch_s"
                  label="Or trigger time"
                  value={pulled}
                  onChange={setPulled}
                  hint="paint by time and flow"
                />
              )}
              <TextField
                select
                label="The comb reads"
                value={of}
                onChange={(e) => setOf(e.target.value)}
                helperText=" "
              >
                <MenuItem value="total">total so far</MenuItem>
                <MenuItem value="this_pass">this pass alone</MenuItem>
              </TextField>
            </div>
          </>
        )}
        {spray.passes.length > 0 && spray.proof === "look" && <Look view={view} />}
        {spray.passes.length > 0 && spray.proof !== "look" && (
          <>
            <span className="label">Press the comb square into the wet film. Tap the last wetted tooth</span>
            <Comb spray={spray} tooth={tooth} onTooth={setTooth} />
            {tooth !== null && (
              <div className="actions">
                <Button
                  variant="contained"
                  name="take-comb"
                  onClick={() =>
                    combPayload && void emptying(tooth, null, setTooth, write("comb", combPayload))
                  }
                >
                  Take {(!dry?.stale && dry?.view?.spray.total?.shown.text) || "this reading"}
                  {where && ` · ${where}`}
                </Button>
                <Button variant="outlined" onClick={() => setTooth(null)}>
                  Leave it
                </Button>
                {dry?.refusals[0] && <span className="refusal">{dry.refusals[0].text}</span>}
              </div>
            )}
          </>
        )}
        {spray.others.length > 0 && (
          <div className="list others">
            {spray.others.map((o) => (
              <div key={o.id} className="proof">
                <span>
                  <b>Pot {o.no}</b> · {o.word} <span className="slate">· {o.left.text}</span>
                </span>
                <Button variant="text" name={`discard-${o.no}`} onClick={() => setDiscarding(o)}>
                  Discard
                </Button>
              </div>
            ))}
          </div>
        )}
        <div className={tooth === null ? "foot" : "foot loose"}>
          {(line ?? spray.start) && (
            <p className="small">
              {line && (
                <span
                  className={line.state === "spent" || line.state === "last_call" ? "word-tell" : "slate"}
                >
                  The hose holds {line.left.text} of pot {line.no}, mixed{line.note ? `; ${line.note}` : ""}
                  .{" "}
                </span>
              )}
              {spray.charge && spray.start && <span className="slate">Pot {spray.start_pot} waits.</span>}
            </p>
          )}
          <div className="actions">
            {spray.charge && (
              <>
                <Button
                  variant="outlined"
                  name="emptied"
                  onClick={() => void write("close_charge", { charge: spray.charge, how: "emptied" })}
                >
                  {view.at_gun ? "Charge is done" : `Pot ${spray.pot} is empty`}
                </Button>
                <Button
                  variant="text"
                  name="discard"
                  onClick={() => spray.charge && setDiscarding({ id: spray.charge, no: spray.pot ?? 0 })}
                  sx={{ color: "text.primary" }}
                >
                  Discard the rest
                </Button>
              </>
            )}
            {line && (
              <Button
                className="last"
                variant="outlined"
                name="flushed"
                onClick={() => void write("flush", view.flush_with ? { text: view.flush_with } : {})}
              >
                Line flushed
              </Button>
            )}
          </div>
        </div>
      </div>
      <div className="see">
        {live && !spray.charge && (
          <div style={{ display: "flex", gap: 16, alignItems: "center" }}>
            <PotPicture pot={live} age={live.age + live.age_per_s * elapsed} size={120} />
            <div>
              <b>Pot {live.no}</b> · {live.word}
              <br />
              {live.left.text} left
            </div>
          </div>
        )}
        <PartStrip zones={seen.zones} chosen={zone} onChoose={setZone} />
        {seen.total && <Level level={{ ...seen.total, advice: seen.advice }} size="big" />}
        {seen.this_pass && spray.passes.length > 1 && <Level level={seen.this_pass} />}
        {seen.dry && <Level level={seen.dry} />}
        {spray.passes.length > 0 && <Passes view={view} zone={me?.zone ?? "UTC"} />}
        <WorkingSheet working={seen.working} />
      </div>
      {discarding && <Discard view={view} pot={discarding} close={() => setDiscarding(null)} />}
    </>
  );
}

/** Where no comb works the eye proves the film: right everywhere, or what is not. */
function Look({ view }: StationProps) {
  const { write } = useWrite(view.id);
  const [asking, setAsking] = useState(false);
  const looked = view.spray.looked;
  return (
    <>
      <span className="label">
        Look along the film: runs, voids, stripes, sheen. This sheet is proved by eye
      </span>
      <div className="actions">
        <Button variant="outlined" name="film-right" onClick={() => void write("film_look", { good: true })}>
          It looks right everywhere
        </Button>
        <Button
          variant="text"
          name="film-wrong"
          onClick={() => setAsking(true)}
          sx={{ color: "text.primary" }}
        >
          Something is not right
        </Button>
        {looked !== null && looked !== undefined && (
          <span className={looked ? "word-in" : "word-tell"}>
            {looked ? "looked at, right" : "not right"}
          </span>
        )}
      </div>
      {asking && (
        <ReasonDialog
          view={view}
          title="What is not right"
          text="It holds the signature until it is mended and looked at again."
          action="Write"
          kind="film_look"
          payload={(text) => ({ good: false, text })}
          close={() => setAsking(false)}
        />
      )}
    </>
  );
}

function StartPot({ view, start, elapsed }: StationProps & { start: () => void; elapsed: number }) {
  const spray = view.spray;
  const pot = view.pots.find((p) => p.id === spray.start);
  const waits = pot?.state === "inducting" && pot.counts_s ? Math.max(0, pot.counts_s - elapsed) : null;
  const time = waits === null ? null : minutes(waits);
  return (
    <>
      <span className="label">
        {view.at_gun ? "The gun is charged" : `Pot ${spray.start_pot} stands ready to load`}
      </span>
      {time && (
        <div>
          <span className="live mono">{time.figure}</span> {time.unit} of induction left
        </div>
      )}
      <div className="actions">
        <Button variant="contained" size="large" name="start-spraying" onClick={start}>
          Start spraying
        </Button>
      </div>
      {spray.cannot_start && <p className="word-tell">{spray.cannot_start}</p>}
    </>
  );
}

function Comb({
  spray,
  tooth,
  onTooth,
}: {
  spray: Schemas["SprayView"];
  tooth: number | null;
  onTooth: (um: number) => void;
}) {
  const most = Math.max(0, spray.teeth.length - 10);
  const [from, setFrom] = useState(Math.min(most, Math.max(0, spray.aim_at - 4)));
  const shown = spray.teeth.slice(from, from + 10);
  const longest = spray.teeth[spray.teeth.length - 1]?.tooth_um ?? 1;
  return (
    <div className="comb" role="group" aria-label="Comb gauge">
      <button
        type="button"
        className="move"
        aria-label="finer teeth"
        disabled={from === 0}
        onClick={() => setFrom(Math.max(0, from - 5))}
      >
        ‹
      </button>
      {shown.map((t) => (
        <button
          key={t.tooth_um}
          type="button"
          className={`tooth ${tooth !== null && t.tooth_um <= tooth ? "wet" : ""}`}
          aria-pressed={tooth === t.tooth_um}
          aria-label={t.shown.text}
          onClick={() => onTooth(t.tooth_um)}
        >
          <div className="face mono">{t.shown.figure.replace(/[.,]0$/, "")}</div>
          <div className="leg" style={{ height: 52 - (36 * t.tooth_um) / longest }} />
        </button>
      ))}
      <button
        type="button"
        className="move"
        aria-label="coarser teeth"
        disabled={from >= most}
        onClick={() => setFrom(Math.min(most, from + 5))}
      >
        ›
      </button>
    </div>
  );
}

function PartStrip({
  zones,
  chosen,
  onChoose,
}: {
  zones: Schemas["ZoneFilm"][];
  chosen: string | null;
  onChoose: (id: string | null) => void;
}) {
  return (
    <div>
      <span className="label">Where on the part</span>
      <div className="part-strip">
        {zones.map((z) => (
          <button
            key={z.name}
            type="button"
            aria-pressed={(z.id ?? null) === chosen}
            onClick={() => onChoose(z.id ?? null)}
          >
            <b className="mono">{z.wet?.text ?? "–"}</b>
            <br />
            <span className="small">
              {z.name}
              {z.word && `, ${z.word}`}
              {z.readings && ` · ${z.readings}`}
            </span>
          </button>
        ))}
      </div>
    </div>
  );
}

function Passes({ view, zone }: StationProps & { zone: string }) {
  return (
    <div style={{ overflow: "auto", maxHeight: 150 }}>
      <table className="rows">
        <thead>
          <tr>
            <th>Pass</th>
            <th>Zone</th>
            <th className="num">Used</th>
            <th className="num">Wet after it</th>
          </tr>
        </thead>
        <tbody>
          {[...view.spray.passes].reverse().map((p, i) => (
            <tr key={p.entry} className={i === 0 ? "now" : ""}>
              <td className="nowrap">
                <b>{p.no}</b> · {shopTime(p.at, zone, view.as_of)} · pot {p.pot}
              </td>
              <td>{p.zones.join(", ") || "whole part"}</td>
              <td className="num">{p.used?.text ?? "–"}</td>
              <td className="num">{p.wet?.text ?? "–"}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
