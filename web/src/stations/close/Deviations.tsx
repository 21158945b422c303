// Deviations with their answers; one that is not answered yet has the button.
import { Button } from "@mui/material";
import type { Schemas } from "../../api/client";
import type { StationProps } from "../../batch/station";

type Props = StationProps<"close"> & { answer: (deviation: Schemas["Deviation"]) => void };

export function Deviations({ view, answer }: Props) {
  const { deviations, signature } = view.close;
  return (
    <>
      <span className="label">Deviations, with their answers</span>
      {deviations.length === 0 && <p className="slate">None that is known.</p>}
      {deviations.length > 0 && (
        <div className="deviations">
          {deviations.map((d) => (
            <div key={`${d.entry}${d.code}`} className={d.answer ? "answered" : "open"}>
              <p>{d.text}</p>
              {d.answer ? (
                <p className="answer">{d.answer}</p>
              ) : signature ? (
                <p className="answer slate">not answered</p>
              ) : (
                <Button variant="outlined" name="answer" aria-haspopup="dialog" onClick={() => answer(d)}>
                  Answer
                </Button>
              )}
            </div>
          ))}
        </div>
      )}
    </>
  );
}
