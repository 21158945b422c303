// Close: answer what deviated, sign the work, accept it, print the card; shut down the rig.
import { useState } from "react";
import type { StationProps } from "../../batch/station";
import { ShutDown } from "../../rigs/ShutDown";
import { StationTabs } from "../../ui/StationTabs";
import { Sign } from "./Sign";

const TABS = [
  ["sign", "Sign"],
  ["shut", "Shut down the rig"],
] as const;

export function CloseStation({ view }: StationProps<"close">) {
  const [tab, setTab] = useState<(typeof TABS)[number][0]>("sign");
  if (!view.close.rig) return <Sign view={view} />;
  return (
    <>
      <StationTabs station="Close" of={TABS} at={tab} go={setTab} />
      {tab === "sign" ? (
        <Sign view={view} />
      ) : (
        <ShutDown rig={view.close.rig} solvent={view.flush_with} station />
      )}
    </>
  );
}
