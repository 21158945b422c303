// Spray: start, stamp a pass, tap the last wetted tooth of the comb.
import { Button } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useWrite } from "../../api/entry";
import { meQuery } from "../../api/queries";
import { putOn } from "../../batch/putOn";
import type { StationProps } from "../../batch/station";
import { PotPicture } from "../../rack/Rack";
import { levelSaid, useSay } from "../../hands/say";
import { stopwatch, useElapsed } from "../../ui/clock";
import { Level } from "../../ui/Level";
import { ToStation } from "../../ui/ToStation";
import { ByHandPicture } from "../../ui/pictures/ByHandPicture";
import { BeforeThePass } from "../../ui/pictures/BeforeThePass";
import { WorkingSheet } from "../../ui/WorkingSheet";
import { Discard } from "../mix/Discard";
import { CombReading, useComb } from "./CombReading";
import { Foot } from "./Foot";
import { Look } from "./Look";
import { PartStrip } from "./PartStrip";
import { Passes } from "./Passes";
import { Pieces } from "./Pieces";
import { StampPass } from "./StampPass";
import { StartPot } from "./StartPot";

export function SprayStation({ view }: StationProps<"spray">) {
  const me = useQuery(meQuery).data;
  const elapsed = useElapsed(view.received, me?.clock_rate ?? 1);
  const { write, refused } = useWrite(view.id);
  const [zone, setZone] = useState<string | null>(view.zones[0]?.id ?? null);
  const [of, setOf] = useState<Schemas["CombOf"]>("total");
  const [discarding, setDiscarding] = useState<{ id: string; no: number } | null>(null);
  const comb = useComb(view, zone, of);
  const spray = view.spray;
  const { by_hand, roller, done } = putOn(view);
  const seen = comb.view?.spray ?? spray;
  const combing = comb.form.tooth_um !== null;
  const start = spray.start;
  const live = view.pots.find((p) => p.id === (spray.charge ?? start));
  const since = spray.last_pass
    ? (new Date(view.as_of).getTime() - new Date(spray.last_pass).getTime()) / 1000 + elapsed
    : null;
  useSay(() => {
    const passes = `${String(spray.passes.length)} passes`;
    const watch = since === null ? null : `${stopwatch(since)} since the last`;
    return [passes, watch, seen.total && levelSaid({ ...seen.total, advice: seen.advice })]
      .filter(Boolean)
      .join(", ");
  });
  if (!spray.charge && !start && spray.passes.length === 0) {
    return (
      <>
        <div className="do">
          <p>
            {by_hand ? "Nothing to put on yet." : "Nothing to spray yet."}{" "}
            {view.at_gun
              ? "Load the gun at Prove."
              : `Mix a pot at Mix; it stands here when it may be ${done}.`}
          </p>
          <ToStation view={view} at={view.at_gun ? 4 : 2} word={view.at_gun ? "To Prove" : "To Mix"} />
          <PartStrip zones={spray.zones} chosen={zone} onChoose={setZone} />
        </div>
        <div className="see">{by_hand ? <ByHandPicture roller={roller} /> : <BeforeThePass />}</div>
      </>
    );
  }
  return (
    <>
      <div className="do">
        {!spray.charge && start && (
          <StartPot
            view={view}
            start={() => void write("start_spraying", { charge: start })}
            elapsed={elapsed}
          />
        )}
        {refused && (
          <p className="refusal" role="alert">
            {refused.detail}
          </p>
        )}
        {spray.charge && (
          <StampPass
            view={view}
            charge={spray.charge}
            zone={zone}
            since={since}
            elapsed={elapsed}
            combing={combing}
          />
        )}
        {spray.passes.length > 0 && <Pieces view={view} />}
        {spray.passes.length > 0 &&
          (spray.proof === "look" ? (
            <Look view={view} />
          ) : (
            <CombReading view={view} entry={comb} zone={zone} of={of} setOf={setOf} />
          ))}
        {spray.others.length > 0 && (
          <div className="list others">
            {spray.others.map((o) => (
              <div key={o.id} className="proof">
                <span>
                  <b>Pot {o.no}</b> · {o.word} <span className="slate">· {o.left.text}</span>
                </span>
                <Button
                  variant="text"
                  name={`discard-${o.no}`}
                  aria-haspopup="dialog"
                  onClick={() => setDiscarding(o)}
                >
                  Discard
                </Button>
              </div>
            ))}
          </div>
        )}
        <Foot
          view={view}
          hose={view.pots.find((p) => p.vessel === "hose")}
          loose={combing}
          discard={setDiscarding}
        />
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
        {spray.covered && <Level level={spray.covered} />}
        {spray.passes.length > 0 && <Passes view={view} zone={me?.zone ?? "UTC"} />}
        <WorkingSheet working={seen.working} />
      </div>
      {discarding && <Discard view={view} pot={discarding} close={() => setDiscarding(null)} />}
    </>
  );
}
