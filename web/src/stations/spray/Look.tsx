// Where no comb works the eye proves the film: right everywhere, or what is not.
import { Button } from "@mui/material";
import { useState } from "react";
import { useWrite } from "../../api/entry";
import { ReasonDialog } from "../../batch/ReasonDialog";
import type { StationProps } from "../../batch/station";

export function Look({ view }: StationProps<"spray">) {
  const { write } = useWrite(view.id);
  const [asking, setAsking] = useState(false);
  const looked = view.spray.looked;
  return (
    <>
      <span className="label">
        Look along the film: runs, voids, stripes, sheen. This sheet is proved by eye
      </span>
      <div className="actions">
        <Button variant="outlined" name="film-right" onClick={() => void write("film_look", { good: true })}>
          It looks right everywhere
        </Button>
        <Button
          variant="text"
          name="film-wrong"
          aria-haspopup="dialog"
          onClick={() => setAsking(true)}
          sx={{ color: "text.primary" }}
        >
          Something is not right
        </Button>
        {looked !== null && looked !== undefined && (
          <span className={looked ? "word-in" : "word-tell"}>
            {looked ? "looked at, right" : "not right"}
          </span>
        )}
      </div>
      {asking && (
        <ReasonDialog
          view={view}
          title="What is not right"
          text="It holds the signature until it is mended and looked at again."
          action="Write"
          kind="film_look"
          payload={(text) => ({ good: false, text })}
          close={() => setAsking(false)}
        />
      )}
    </>
  );
}
