// The bond test: a small piece of the real substrate, pressed and parted; its result is chosen by its picture.
import { useEntryForm } from "../../api/useEntryForm";
import { useWords } from "../../api/forms";
import type { Schemas } from "../../api/client";
import type { StationProps } from "../../batch/station";
import { Act } from "../../ui/Act";
import { FileField } from "../../ui/FileField";
import { Words } from "../../ui/Words";
import { BondPicture } from "./BondPicture";

type Form = {
  result: Schemas["BondResult"] | "";
  substrate: string;
  text: string;
  photo: Schemas["Attached"] | null;
};
const EMPTY: Form = { result: "", substrate: "", text: "", photo: null };

export function BondTest({ view }: StationProps<"prove">) {
  const words = useWords();
  const charge = view.prove.charge;
  const bonds = view.prove.bonds ?? [];
  const entry = useEntryForm(view.id, "bond_test", EMPTY, {
    begin: { substrate: bonds[0]?.substrate ?? "" },
    keep: (f) => ({ substrate: f.substrate }),
    says: (f) =>
      f.result && f.substrate.trim() && charge
        ? { charge, result: f.result, substrate: f.substrate, photo: f.photo, text: f.text || null }
        : null,
    asks: () => false,
  });
  const newest = bonds[0];
  return (
    <>
      <form className="do" onSubmit={entry.submit}>
        <span className="label">
          Press a small piece of the real substrate, wait, part it: how does it part?
        </span>
        <div className="bond-ways" role="radiogroup" aria-label="How it parts">
          {words.bond_result.map((r) => (
            <button
              key={r.value}
              type="button"
              role="radio"
              name={`bond-${r.value}`}
              aria-checked={entry.form.result === r.value}
              onClick={() => entry.put({ result: r.value })}
            >
              <BondPicture result={r.value} />
              <span>{r.word}</span>
            </button>
          ))}
        </div>
        <div className="fields">
          <Words
            name="bond-substrate"
            label="On"
            value={entry.form.substrate}
            set={(substrate) => entry.put({ substrate })}
            most={60}
            wrong={entry.error("substrate")}
            hint="the substrate; a soft one forgives"
          />
          <Words
            name="bond-text"
            label="What else was seen"
            value={entry.form.text}
            set={(text) => entry.put({ text })}
            most={2000}
            wrong={entry.error("text")}
          />
        </div>
        <div className="actions">
          <Act
            name="take-bond"
            word="Take this test"
            needs={
              !charge
                ? "load the gun first"
                : !entry.form.result
                  ? "choose how it parted"
                  : !entry.form.substrate.trim() && "say on what"
            }
          />
          <FileField
            label="Photo"
            accept="image/jpeg,image/png,image/webp"
            taken={entry.form.photo}
            take={(photo) => entry.put({ photo })}
          />
          {entry.stray && <span className="refusal">{entry.stray}</span>}
        </div>
      </form>
      <div className="see">
        {newest ? (
          <>
            <span className="label">
              On {newest.substrate}, by {newest.by}
            </span>
            <BondPicture result={newest.result} />
            <p className={newest.verdict === "in" ? "word-in" : "word-out"}>{newest.word}</p>
            <p>{newest.advice}</p>
            {newest.photo && (
              <img
                className="kept-photo"
                src={`/api/v1/photos/${newest.photo}/small`}
                alt={`Photo of the test piece on ${newest.substrate}`}
              />
            )}
          </>
        ) : (
          <>
            <BondPicture result="holds" />
            <p className="small slate">
              It can look right in the fan and be wrong in the mix. The piece tells: strings and holds is
              right.
            </p>
          </>
        )}
      </div>
    </>
  );
}
