// What ends a pot or empties the hose, at the lower edge of Spray, where it does not move.
import { Button } from "@mui/material";
import type { PotView } from "../../api/client";
import { useWrite } from "../../api/entry";
import type { StationProps } from "../../batch/station";
import { ToNextCoat } from "../mix/ToNextCoat";

type Props = StationProps<"spray"> & {
  hose: PotView | undefined;
  loose: boolean;
  discard: (pot: { id: string; no: number }) => void;
};

export function Foot({ view, hose, loose, discard }: Props) {
  const { write, refused } = useWrite(view.id);
  const spray = view.spray;
  const charge = spray.charge;
  return (
    <div className={loose ? "foot loose" : "foot"}>
      {refused && (
        <p className="refusal" role="alert">
          {refused.detail}
        </p>
      )}
      <div className={view.hardened ? "actions" : "actions wraps"}>
        {charge && (
          <>
            <Button
              variant="outlined"
              name="emptied"
              onClick={() => void write("close_charge", { charge, how: "emptied" })}
            >
              {view.at_gun ? "Both feeds are off" : `Pot ${spray.pot} is empty`}
            </Button>
            <Button
              variant="text"
              name="discard"
              aria-haspopup="dialog"
              onClick={() => discard({ id: charge, no: spray.pot ?? 0 })}
              sx={{ color: "text.primary" }}
            >
              Discard the rest
            </Button>
          </>
        )}
        {charge && spray.next_coat && (
          <ToNextCoat book={view.id} pot={{ id: charge, no: spray.pot ?? 0 }} to={spray.next_coat} />
        )}
        {charge && !view.hardened && (
          <>
            <Button
              variant="text"
              name="back-to-can"
              onClick={() => void write("close_charge", { charge, how: "back_to_can" })}
              sx={{ color: "text.primary" }}
            >
              The rest back to its can
            </Button>
            {hose && (
              <Button
                variant="text"
                name="left-in-pot"
                onClick={() => void write("close_charge", { charge, how: "left_in_pot" })}
                sx={{ color: "text.primary" }}
              >
                It stays
              </Button>
            )}
          </>
        )}
        {hose && (
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
  );
}
