// The book of a rig: what was inspected, cleaned and fitted, and every step and tick beside it.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { at } from "../api/entry";
import { meQuery } from "../api/queries";
import { emptying } from "../api/turns";
import { Act } from "../ui/Act";
import { AskReason } from "../ui/AskReason";
import { shopTime } from "../ui/clock";
import { offered, useWords } from "../api/forms";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { Words } from "../ui/Words";
import { useRigBook, type RigKind, type RigPayload } from "./useRigBook";

const EMPTY = { text: "", nozzle_mm: "", tip_code: "", piece: "" as Schemas["ExchangedPiece"] | "" };

export function RigBook({ rig, tipped }: { rig: Schemas["RigView"]; tipped: boolean }) {
  const known = useWords();
  const me = useQuery(meQuery).data;
  const [form, setForm] = useState(EMPTY);
  const [striking, setStriking] = useState<Schemas["RigLogLine"] | null>(null);
  const { say, refused } = useRigBook(rig.id);
  // The dialog waits for its own answer alone: one that comes late to another entry neither stops nor closes it.
  const strike = useRigBook(rig.id);
  const text = form.text.trim() ? { text: form.text } : {};
  const put = <K extends RigKind>(kind: K, payload: RigPayload<K>) =>
    void emptying(form, EMPTY, setForm, say(kind, payload));
  const fitted = {
    ...(form.nozzle_mm.trim() ? { nozzle_mm: form.nozzle_mm } : {}),
    ...(form.tip_code.trim() ? { tip_code: form.tip_code } : {}),
  };
  const words = (name: keyof typeof EMPTY, field: string, label: string, most: number) => (
    <Words
      name={field}
      label={label}
      value={form[name]}
      set={(text) => setForm((f) => ({ ...f, [name]: text }))}
      most={most}
      wrong={at(name, refused?.fields)}
    />
  );
  const button = <K extends RigKind>(
    kind: K,
    name: string,
    word: string,
    payload: RigPayload<K>,
    main = false,
    needs: string | false = false,
  ) => <Act name={name} word={word} quiet={!main} needs={needs} press={() => put(kind, payload)} />;
  return (
    <>
      <form onSubmit={(e) => e.preventDefault()} className="rig-book">
        <div className="fields three">
          {words("text", "text", "Found, with what, a note", 2000)}
          {tipped ? (
            words("tip_code", "fitted_tip", "Tip now fitted", 12)
          ) : (
            <Field
              name="fitted_mm"
              label="Nozzle now fitted"
              value={form.nozzle_mm}
              onChange={(nozzle_mm) => setForm((f) => ({ ...f, nozzle_mm }))}
              {...(at("nozzle_mm", refused?.fields) ? { error: at("nozzle_mm", refused?.fields) ?? "" } : {})}
            />
          )}
          <Choice
            name="exchanged_piece"
            label="Piece exchanged"
            value={form.piece}
            set={(piece) => setForm((f) => ({ ...f, piece }))}
            options={offered(known.exchanged_piece, " ")}
            hint="for another alike"
          />
        </div>
        <div className="actions">
          {button("inspected", "inspected", "Inspected, sound", { sound: true, ...text }, true)}
          {button("inspected", "not-sound", "Not sound", { sound: false, ...text })}
          {button("cleaned", "cleaned", "Cleaned", text)}
          {button(
            "fitted",
            "fitted",
            "Fitted",
            fitted,
            false,
            Object.keys(fitted).length === 0 && "what is fitted now",
          )}
          {button(
            "exchanged",
            "exchanged",
            "Exchanged",
            { piece: form.piece || "hose", ...text },
            false,
            !form.piece && "which piece",
          )}
          {button("note", "note-rig", "Note", { text: form.text }, false, !form.text.trim() && "its words")}
        </div>
        {refused && !refused.field && <p className="refusal">{refused.detail}</p>}
      </form>
      <table className="rows">
        <tbody>
          {rig.book.length === 0 && (
            <tr>
              <td className="slate">Nothing is written in its book yet.</td>
            </tr>
          )}
          {rig.book.map((l) => (
            <tr key={l.entry} className={l.struck ? "struck" : ""}>
              <td className="mono nowrap">{shopTime(l.at, me?.zone ?? "UTC", me?.now)}</td>
              <td>{l.text}</td>
              <td className="slate nowrap">{l.by}</td>
              <td>
                {l.may_strike && (
                  <button
                    type="button"
                    className="link"
                    aria-haspopup="dialog"
                    onClick={() => setStriking(l)}
                  >
                    Strike
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {striking && (
        <AskReason
          title="Strike this entry"
          text="It stays in the book, struck through, with your name and reason."
          action="Strike it"
          hint="what was wrong with it"
          busy={strike.busy}
          error={
            at("reason", strike.refused?.fields) ??
            (strike.refused && !strike.refused.field ? strike.refused.detail : undefined)
          }
          submit={(reason) =>
            void strike.say("strike", { entry: striking.entry, reason }).then((ok) => ok && setStriking(null))
          }
          close={() => setStriking(null)}
        />
      )}
    </>
  );
}
