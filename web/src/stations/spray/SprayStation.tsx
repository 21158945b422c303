// Spray: the pass board. Which zone and which way next, one stamp, each zone with its wait and its film; the rest in tabs beside it.
import { Button } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useWrite } from "../../api/entry";
import { meQuery } from "../../api/queries";
import { putOn } from "../../batch/putOn";
import type { StationProps } from "../../batch/station";
import { PotPicture } from "../../rack/Rack";
import { levelSaid, useSay } from "../../hands/say";
import { stopwatch, useElapsed } from "../../ui/clock";
import { FileField } from "../../ui/FileField";
import { Level } from "../../ui/Level";
import { StationTabs } from "../../ui/StationTabs";
import { ToStation } from "../../ui/ToStation";
import { ByHandPicture } from "../../ui/pictures/ByHandPicture";
import { BeforeThePass } from "../../ui/pictures/BeforeThePass";
import { Discard } from "../mix/Discard";
import { Between } from "./Between";
import { Film } from "./Film";
import { Foot } from "./Foot";
import { InHose } from "./InHose";
import { Look } from "./Look";
import { Pace } from "./Pace";
import { PartStrip } from "./PartStrip";
import { PassesTab } from "./PassesTab";
import { Pieces } from "./Pieces";
import { Sections } from "./Sections";
import { StampPass } from "./StampPass";
import { StartPot } from "./StartPot";
import { ZoneCards } from "./ZoneCards";
import { ZoneDrawing } from "./ZoneDrawing";

type Tab = "board" | "film" | "passes" | "pace";

export function SprayStation({ view }: StationProps<"spray">) {
  const me = useQuery(meQuery).data;
  const elapsed = useElapsed(view.received, me?.clock_rate ?? 1);
  const { write, refused } = useWrite(view.id);
  const [tab, setTab] = useState<Tab>("board");
  // A zone chosen by hand; undefined: the one that is planned.
  const [picked, setPicked] = useState<string | null | undefined>(undefined);
  const [discarding, setDiscarding] = useState<{ id: string; no: number } | null>(null);
  const spray = view.spray;
  const board = spray.board;
  const { by_hand, roller, done } = putOn(view);
  const start = spray.start;
  const live = view.pots.find((p) => p.id === (spray.charge ?? start));
  const now = new Date(view.as_of).getTime() + elapsed * 1000;
  const since = spray.last_pass ? (now - new Date(spray.last_pass).getTime()) / 1000 : null;
  const zone = picked !== undefined ? picked : (board?.next?.zone ?? view.zones[0]?.id ?? null);
  // The comb is set where the gun just was, unless another zone is chosen.
  const passed = spray.passes[spray.passes.length - 1]?.zones ?? [];
  const last = view.zones.find((z) => z.name === passed[0])?.id ?? null;
  const combed = picked !== undefined ? picked : (last ?? zone);
  useSay(() => {
    const watch = since === null ? null : `${stopwatch(since)} since the last`;
    const passes = `${String(spray.passes.length)} passes`;
    const film = spray.total && levelSaid({ ...spray.total, advice: spray.advice });
    return [board?.next?.title, passes, watch, film].filter(Boolean).join(", ");
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
          <PartStrip zones={spray.zones} chosen={zone} onChoose={setPicked} />
        </div>
        <div className="see">{by_hand ? <ByHandPicture roller={roller} /> : <BeforeThePass />}</div>
      </>
    );
  }
  const tabs: (readonly [Tab, string])[] = [
    ["board", "Board"],
    ["film", "Film"],
    ["passes", `Passes ${spray.passes.length}`],
    ["pace", by_hand ? "Sections" : "Pace and sections"],
  ];
  const byComb = spray.proof !== "look" && spray.proof !== "not_asked";
  return (
    <>
      <StationTabs station="Spray" of={tabs} at={tab} go={setTab} />
      {tab === "film" && <Film view={view} zone={combed} choose={setPicked} />}
      {tab === "passes" && <PassesTab view={view} zone={me?.zone ?? "UTC"} />}
      {tab === "pace" && (
        <>
          {by_hand ? <div className="do" /> : <Pace view={view} />}
          <Sections view={view} />
        </>
      )}
      {tab === "board" && (
        <>
          <div className="do tight">
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
                stamped={() => setPicked(undefined)}
                since={since}
                now={now}
              />
            )}
            {spray.passes.length > 0 && <Pieces view={view} />}
            {spray.passes.length > 0 && (
              <Between view={view} zone={zone} comb={byComb ? () => setTab("film") : null} />
            )}
            {spray.passes.length > 0 && spray.proof === "look" && <Look view={view} />}
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
              loose={false}
              discard={setDiscarding}
            />
          </div>
          <div className="see part-see">
            {live && !spray.charge && (
              <div style={{ display: "flex", gap: 16, alignItems: "center" }}>
                <PotPicture pot={live} age={live.age + live.age_per_s * elapsed} size={84} />
                <div>
                  <b>Pot {live.no}</b> · {live.word}
                  <br />
                  {live.left.text} left
                </div>
              </div>
            )}
            {board && (
              <div className="part-board">
                <div>
                  <ZoneDrawing board={board} chosen={zone} choose={setPicked} />
                  {!board.backdrop && spray.passes.length === 0 && (
                    <FileField
                      label="A photo behind the zones"
                      accept="image/jpeg,image/png,image/webp"
                      taken={null}
                      take={(photo) => photo && void write("backdrop", { photo })}
                    />
                  )}
                </div>
                <ZoneCards zones={board.zones} chosen={zone} choose={setPicked} now={now} />
              </div>
            )}
            {spray.covered && <Level level={spray.covered} />}
            <InHose view={view} hose={view.pots.find((p) => p.vessel === "hose")} />
            {board?.falling?.map((text) => (
              <p key={text} className="word-tell" role="status">
                {text}
              </p>
            ))}
            {board?.paint && (
              <p className={board.paint_presses ? "word-tell" : "small"}>
                <b>Paint</b> {board.paint}
              </p>
            )}
          </div>
        </>
      )}
      {discarding && <Discard view={view} pot={discarding} close={() => setDiscarding(null)} />}
    </>
  );
}
