// Mix: how much, then base, hardener, thinner onto one scale; stir; the pot goes to the rack.
import { Button } from "@mui/material";
import { useState } from "react";
import type { StationProps } from "../../batch/station";
import { StationTabs } from "../../ui/StationTabs";
import { ToStation } from "../../ui/ToStation";
import { TwoStreams } from "../../ui/pictures/TwoStreams";
import { ByCup } from "./ByCup";
import { NewPot } from "./NewPot";
import { PlanPots } from "./PlanPots";
import { Pot } from "./Pot";
import { PotWork } from "./PotWork";
import { ReadyFill } from "./ReadyFill";
import { TwoWays } from "./TwoWays";

export function MixStation({ view }: StationProps<"mix">) {
  const [chosen, setChosen] = useState<string | null>(null);
  const [fresh, setFresh] = useState(false);
  const [tab, setTab] = useState<"pour" | "plan" | "ways" | "mark" | "work">("pour");
  const unfinished = view.mix.pots.find((p) => p.hand || (view.hardened && !p.stirred));
  const pot = view.mix.pots.find((p) => p.id === chosen) ?? unfinished ?? view.mix.pots[0];
  if (view.at_gun) {
    return (
      <>
        <div className="do">
          <p>
            This product is mixed at the gun: there is nothing to weigh together. Load the gun and catch both
            streams at Prove.
          </p>
          <ToStation view={view} at={4} word="To Prove" />
        </div>
        <div className="see">
          <TwoStreams />
        </div>
      </>
    );
  }
  // Out of one can nothing is weighed; a pot that was opened to be weighed is seen through.
  const ready = view.mix.ready_to_use && !(pot?.hand && pot.fills.length === 0);
  const plan = tab === "plan" || tab === "ways";
  const all = [
    ["pour", ready || (pot && !fresh) ? "Pour" : "New pot"],
    ["plan", "Plan the pots"],
    ["ways", "Two ways"],
    ["mark", "By cup"],
    ["work", "Fills and vessels"],
  ] as const;
  const shown = all.filter(([key]) => (key === "mark" || key === "work" ? pot && !fresh && !ready : true));
  const tabs = <StationTabs station="Mix" of={shown} at={tab} go={setTab} />;
  if (tab === "plan")
    return (
      <>
        {tabs}
        <PlanPots view={view} key={view.mix.plan?.entered ? "planned" : "new"} />
      </>
    );
  if (tab === "ways")
    return (
      <>
        {tabs}
        <TwoWays view={view} />
      </>
    );
  if (ready)
    return (
      <>
        {tabs}
        <ReadyFill view={view} key={pot?.id ?? "first"} />
      </>
    );
  if (!pot || fresh || plan)
    return (
      <>
        {tabs}
        <NewPot view={view} done={() => setFresh(false)} />
      </>
    );
  if (tab === "mark")
    return (
      <>
        {tabs}
        <ByCup view={view} pot={pot} key={pot.id} />
      </>
    );
  if (tab === "work")
    return (
      <>
        {tabs}
        <PotWork view={view} pot={pot} key={pot.id} />
      </>
    );
  return (
    <>
      {tabs}
      <Pot
        key={pot.id}
        view={view}
        pot={pot}
        more={
          <div className="actions">
            {view.mix.pots.length > 1 &&
              view.mix.pots.map((p) => (
                <Button
                  key={p.id}
                  variant={p.id === pot.id ? "outlined" : "text"}
                  onClick={() => setChosen(p.id)}
                >
                  Pot {p.no}
                </Button>
              ))}
            {!unfinished && (
              <Button variant="contained" name="another-pot" onClick={() => setFresh(true)}>
                Mix another pot
              </Button>
            )}
          </div>
        }
      />
    </>
  );
}
