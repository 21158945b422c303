// Close: measure and look at what was put on, sign the work, accept it, print the card; defects and their causes; shut down the rig.
import { useState } from "react";
import { GaugeTab } from "../../acceptance/GaugeTab";
import { Stages } from "../../acceptance/Stages";
import { DefectsTab } from "../../diagnosis/DefectsTab";
import type { StationProps } from "../../batch/station";
import { ShutDown } from "../../rigs/ShutDown";
import { StationTabs } from "../../ui/StationTabs";
import { Sign } from "./Sign";

type Tab = "sign" | "gauge" | "look" | "defects" | "shut";

export function CloseStation({ view }: StationProps<"close">) {
  const [tab, setTab] = useState<Tab | null>(null);
  const rig = view.close.rig;
  const tabs: (readonly [Tab, string])[] = [
    ["sign", "Sign"],
    ["gauge", "Gauge"],
    ["look", "Look"],
    ["defects", "Defects"],
  ];
  if (rig) tabs.push(["shut", "Shut down the rig"]);
  const at = tab ?? "sign";
  return (
    <>
      <StationTabs station="Close" of={tabs} at={at} go={setTab} />
      {at === "sign" && <Sign view={view} go={setTab} />}
      {at === "gauge" && <GaugeTab view={view} />}
      {at === "look" && <Stages view={view} />}
      {at === "defects" && <DefectsTab view={view} />}
      {at === "shut" && rig && <ShutDown rig={rig} solvent={view.flush_with} station />}
    </>
  );
}
