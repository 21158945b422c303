// What is done with a mixed pot: fills for the gun, stirring again, another cup, a second vessel, another batch.
import { Button } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { useWrite } from "../../api/entry";
import { meQuery } from "../../api/queries";
import type { StationProps } from "../../batch/station";
import { FillForm } from "./FillForm";
import { Fills } from "./Fills";
import { HandOver } from "./HandOver";
import { ToNextCoat } from "./ToNextCoat";
import { DivideForm, TransferForm } from "./Vessels";

export type PotProps = StationProps<"mix"> & { pot: Schemas["MixPot"] };

export function PotWork({ view, pot }: PotProps) {
  const next = view.mix.hand_to.find((h) => h.next_coat);
  const zone = useQueryClient().getQueryData(meQuery.queryKey)?.zone ?? "UTC";
  return (
    <>
      <div className="do">
        <span className="label">
          Pot {pot.no}: {pot.left.text} left{pot.born ? `, ${pot.born}` : ""}
        </span>
        {next && <ToNextCoat book={view.id} pot={pot} to={next} left={pot.left.text} />}
        <FillForm view={view} pot={pot} />
        {pot.stir_again && <StirAgain view={view} pot={pot} />}
        <details>
          <summary>Another cup, a second vessel, another batch</summary>
          <div style={{ display: "grid", gap: 8, paddingTop: 8 }}>
            <TransferForm view={view} pot={pot} />
            <DivideForm view={view} pot={pot} />
            {view.mix.hand_to.length > 0 && <HandOver view={view} pot={pot} />}
          </div>
        </details>
      </div>
      <div className="see">
        {pot.thicker && <p className="word-tell">{pot.thicker}</p>}
        {pot.cautions.map((c) => (
          <p key={c} className="small">
            {c}
          </p>
        ))}
        <Fills pot={pot} zone={zone} asOf={view.as_of} />
        {pot.dose_for_litre && (
          <p>
            The dose is <b className="mono">{pot.dose_for_litre.text}</b>: keep it from fill to fill, and the
            shade does not step.
          </p>
        )}
        {pot.judgements.map((j) => (
          <p key={j.code} className={j.stop ? "word-out" : "word-tell"}>
            {j.text}
          </p>
        ))}
      </div>
    </>
  );
}

function StirAgain({ view, pot }: PotProps) {
  const { write } = useWrite(view.id);
  return (
    <div className="actions">
      <Button variant="outlined" name="stir-again" onClick={() => void write("stirred", { charge: pot.id })}>
        Stirred again
      </Button>
      <span className={pot.stir_again?.endsWith("now") ? "word-tell" : "slate"}>{pot.stir_again}</span>
    </div>
  );
}
