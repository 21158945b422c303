// Prove: a pot as it was weighed, or two catches at full trigger; the ledger of the rig, the whole run, the bond test.
import { useState } from "react";
import type { StationProps } from "../../batch/station";
import { Ledger } from "../../ratio_check/Ledger";
import { OnTheScale } from "../../ui/pictures/OnTheScale";
import { StationTabs } from "../../ui/StationTabs";
import { AsWeighed } from "./AsWeighed";
import { BondTest } from "./BondTest";
import { LoadTheGun } from "./LoadTheGun";
import { RatioCheck } from "./RatioCheck";
import { WholeRun } from "./WholeRun";

type Tab = "catch" | "ledger" | "run" | "bond";

export function ProveStation({ view }: StationProps<"prove">) {
  const [tab, setTab] = useState<Tab>("catch");
  if (!view.hardened)
    return (
      <>
        <div className="do">
          <p>This product has no second component: there is no ratio to prove.</p>
        </div>
        <div className="see">
          <OnTheScale single />
        </div>
      </>
    );
  const { by_catch, asks_bond, bonds, charge } = view.prove;
  const tabs: (readonly [Tab, string])[] = [
    ["catch", by_catch ? "Catch" : "As weighed"],
    ["ledger", "Ledger"],
  ];
  if (by_catch) tabs.push(["run", "Whole run"]);
  if (by_catch && (asks_bond || !view.prove.by_setting || (bonds ?? []).length > 0))
    tabs.push(["bond", "Bond test"]);
  return (
    <>
      <StationTabs station="Prove" of={tabs} at={tab} go={setTab} />
      {tab === "ledger" && (
        <Ledger of={{ batch: view.id }} {...(by_catch ? { catchNow: () => setTab("catch") } : {})} />
      )}
      {tab === "run" && <WholeRun view={view} />}
      {tab === "bond" && <BondTest view={view} />}
      {tab === "catch" &&
        (!by_catch ? (
          <AsWeighed view={view} />
        ) : charge ? (
          <RatioCheck view={view} charge={charge} />
        ) : (
          <LoadTheGun view={view} />
        ))}
    </>
  );
}
