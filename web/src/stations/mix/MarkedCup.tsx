// By marked cup: how high each pour stands, a strip to print in true size, and what a mark can prove.
import { Button } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, Refused, type Schemas } from "../../api/client";
import { at, useDebounced, useWrite } from "../../api/entry";
import { useEntryForm } from "../../api/useEntryForm";
import type { StationProps } from "../../batch/station";
import { EntryField } from "../../ui/EntryField";
import { Field } from "../../ui/Field";
import { Level } from "../../ui/Level";
import { CupStrip } from "./CupStrip";
import { Act } from "../../ui/Act";

const KEY = "level-keel-cup";
const usual = { floor_mm: "90 mm", rim_mm: "120 mm", height_mm: "150 mm" };

type Props = StationProps<"mix"> & { pot: Schemas["MixPot"]; choice: React.ReactNode };

export function MarkedCup({ view, pot, choice }: Props) {
  const [cup, setCup] = useState<typeof usual>(
    () => JSON.parse(localStorage.getItem(KEY) ?? JSON.stringify(usual)) as typeof usual,
  );
  const { write, refused } = useWrite(view.id);
  const text = useDebounced(JSON.stringify(cup));
  const marked = useQuery({
    queryKey: ["marks", view.id, pot.id, text, pot.wanted.text],
    queryFn: () =>
      ask(
        api.POST("/api/v1/compute/mixing/marks/{id}/{charge}", {
          params: { path: { id: view.id, charge: pot.id } },
          body: { cup: JSON.parse(text) as Schemas["CupTyped"] },
        }),
      ),
    retry: false,
    gcTime: 0,
  });
  const refusals = marked.error instanceof Refused ? marked.error.problem.fields : [];
  const set = (name: keyof typeof usual) => (v: string) => {
    const next = { ...cup, [name]: v };
    setCup(next);
    localStorage.setItem(KEY, JSON.stringify(next));
  };
  const known = marked.data?.cup;
  const mustCombine = pot.hand === "hardener" && !pot.combined;
  const entry = useEntryForm(
    view.id,
    "pour",
    { level_mm: "" },
    {
      says: (f) =>
        pot.hand && known && f.level_mm.trim() && !mustCombine
          ? { charge: pot.id, component: pot.hand, reading_g: 0, resolution_g: 1, mark: { cup: known, ...f } }
          : null,
    },
  );
  const seen = entry.view?.mix?.pots.find((p) => p.id === pot.id) ?? pot;
  const field = (name: keyof typeof usual, label: string) => (
    <Field
      name={`cup.${name}`}
      label={label}
      value={cup[name]}
      onChange={set(name)}
      {...(at(`cup.${name}`, refusals) ? { error: at(`cup.${name}`, refusals) ?? "" } : {})}
    />
  );
  const strip =
    known &&
    `/api/v1/batches/${view.id}/charges/${pot.id}/strip.svg?floor_mm=${known.floor_mm}&rim_mm=${known.rim_mm}&height_mm=${known.height_mm}`;
  return (
    <>
      <form className="do" onSubmit={entry.submit}>
        <div className="fields">{choice}</div>
        <span className="label">The cup, measured inside</span>
        <div className="fields three">
          {field("floor_mm", "Across the floor")}
          {field("rim_mm", "Across the rim")}
          {field("height_mm", "High")}
        </div>
        {marked.error && refusals?.length === 0 && <p className="refusal">{marked.error.message}</p>}
        {mustCombine ? (
          <div className="actions">
            <Button
              variant="contained"
              name="combine"
              onClick={() => void write("combine", { charge: pot.id })}
            >
              Add hardener now
            </Button>
          </div>
        ) : (
          pot.hand && (
            <div className="actions">
              <EntryField
                of={entry}
                name="level_mm"
                path="mark.level_mm"
                label={`${pot.hand_name ?? ""} stands at`}
              />
              <Act name="take-mark" word="Take this level" needs={!entry.ready && "type where it stands"} />
            </div>
          )
        )}
        {(entry.stray ?? refused?.detail) && <p className="refusal">{entry.stray ?? refused?.detail}</p>}
        {seen.ratio && <Level level={seen.ratio} />}
        <p className="small slate">
          An eye reads a mark to about 1 mm
          {marked.data?.scale_off
            ? `; the finest scale here is off by ${marked.data.scale_off.apart.text} at most weighed apart, ${marked.data.scale_off.running.text} on a running total`
            : ""}
          . The level of the ratio shows what that proves.
        </p>
      </form>
      <div className="see">
        {marked.data && <CupStrip cup={marked.data} />}
        {strip && (
          <a className="export" href={strip} target="_blank" rel="noreferrer">
            The strip in true size, to print
          </a>
        )}
        <table className="rows">
          <tbody>
            {marked.data?.marks.map((m) => (
              <tr key={m.name}>
                <td>
                  <b>{m.name}</b>
                </td>
                <td className="num">{m.level.text}</td>
                <td className="num slate">± {m.off.text}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
