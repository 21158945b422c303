// A pot under way: the next hand on it, what is in, and how it stands.
import { Button } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useState, type ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { useWrite } from "../../api/entry";
import { scalesQuery } from "../../api/queries";
import type { StationProps } from "../../batch/station";
import { Level } from "../../ui/Level";
import { WorkingSheet } from "../../ui/WorkingSheet";
import { ByCup } from "./ByCup";
import { Cup } from "./Cup";
import { PourForm, usePour } from "./PourForm";
import { PourTable } from "./PourTable";
import { Rescue } from "./Rescue";
import { WeighIn } from "./WeighIn";

export function Pot({ view, pot, more }: StationProps<"mix"> & { pot: Schemas["MixPot"]; more: ReactNode }) {
  const live = useQuery(scalesQuery).data?.[0];
  const [typed, setTyped] = useState(false);
  const pour = usePour(view, pot);
  const seen = pour.view?.mix?.pots.find((p) => p.id === pot.id) ?? pot;
  const mustCombine = pot.hand === "hardener" && !pot.combined;
  const over = pot.lines.some((l) => l.word === "over");
  if (view.mix.by_volume && pot.hand) return <ByCup view={view} pot={pot} />;
  return (
    <>
      <div className="do">
        {live && pot.hand && !typed ? (
          <WeighIn view={view} pot={pot} scale={live} typeIt={() => setTyped(true)} />
        ) : mustCombine ? (
          <AddHardener view={view} pot={pot} />
        ) : pot.hand ? (
          <PourForm
            view={view}
            pot={pot}
            seen={seen}
            pour={pour}
            live={live}
            byScale={() => setTyped(false)}
          />
        ) : view.hardened && !pot.stirred ? (
          <Stir view={view} pot={pot} />
        ) : (
          <p>
            <b>Pot {pot.no} is filled.</b> It stands on the rack with its clock.
          </p>
        )}
        {over && pot.hand && (
          <p className="word-tell">
            One pour is over: the rest of the plan has grown to match it. Nothing is taken out.
          </p>
        )}
        <Rescue view={view} pot={seen} />
        <PourTable lines={seen.lines} />
        {more}
      </div>
      <div className="see">
        <span className="label spread">
          The cup, pot {pot.no}
          <Link to="/labels" search={{ of: `pot:${view.id}:${pot.id}` }} className="export">
            Its label
          </Link>
        </span>
        <Cup marks={seen.marks} />
        {seen.ratio && <Level level={seen.ratio} />}
        <WorkingSheet working={seen.working} last={4} />
      </div>
    </>
  );
}

type Props = StationProps<"mix"> & { pot: Schemas["MixPot"] };

function AddHardener({ view, pot }: Props) {
  const { write, refused } = useWrite(view.id);
  return (
    <>
      <span className="label">Base is in. Hardener next: the pot’s clock starts with it</span>
      <div className="actions">
        <Button
          variant="contained"
          size="large"
          name="combine"
          onClick={() => void write("combine", { charge: pot.id })}
        >
          Add hardener now
        </Button>
        <span>
          to <b className="mono">{pot.to_reading?.text}</b> on the scale
        </span>
      </div>
      {refused && (
        <p className="refusal" role="alert">
          {refused.detail}
        </p>
      )}
    </>
  );
}

function Stir({ view, pot }: Props) {
  const { write, refused } = useWrite(view.id);
  return (
    <>
      <span className="label">All is in. Stir it through, then its induction begins</span>
      <div className="actions">
        <Button
          variant="contained"
          size="large"
          name="stirred"
          onClick={() => void write("stirred", { charge: pot.id })}
        >
          Stirred
        </Button>
      </div>
      {refused && <p className="refusal">{refused.detail}</p>}
    </>
  );
}
