// Set: the rig, its stream or its pattern, what a catch teaches, what else would do, gun speed.
import { useState } from "react";
import type { StationProps } from "../../batch/station";
import { StationTabs } from "../../ui/StationTabs";
import { ByHand } from "./ByHand";
import { AskLine } from "./AskLine";
import { CatchFlow } from "./CatchFlow";
import { ChooseRig } from "./ChooseRig";
import { GunSpeed } from "./GunSpeed";
import { SetUps } from "./SetUps";

const TABS = [
  ["try", "Try"],
  ["catch", "Flow"],
  ["ask", "What if"],
  ["speed", "Gun speed"],
  ["rig", "The rig"],
] as const;
type Tab = (typeof TABS)[number][0];
/** What is only asked where a pressure drives the paint through a hose. */
const OF_A_LINE: Tab[] = ["catch", "ask"];

export function SetStation({ view }: StationProps<"set">) {
  const [tab, setTab] = useState<Tab>("try");
  const tabs = TABS.filter(([name]) => view.set.pressed || !OF_A_LINE.includes(name));
  if (view.set.by_hand) return <ByHand view={view} by={view.set.by_hand} />;
  return (
    <>
      <StationTabs station="Set" of={tabs} at={tab} go={setTab} />
      {tab === "try" && <SetUps view={view} toRig={() => setTab("rig")} />}
      {tab === "catch" && <CatchFlow view={view} toRig={() => setTab("rig")} />}
      {tab === "ask" && <AskLine view={view} />}
      {tab === "speed" && <GunSpeed view={view} />}
      {tab === "rig" && <ChooseRig view={view} chosen={() => setTab("rig")} />}
    </>
  );
}
