// By marked cup: how high each pour stands, a strip to print in true size, and what a mark can prove.
import { Button } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, Refused, type Schemas } from "../../api/client";
import { at, useDebounced, useDry, useWrite } from "../../api/entry";
import type { StationProps } from "../../batch/station";
import { emptying } from "../../api/turns";
import { Field } from "../../ui/Field";
import { Level } from "../../ui/Level";
import { spread } from "../../ui/spread";

const KEY = "level-keel-cup";
const usual = { floor_mm: "90 mm", rim_mm: "120 mm", height_mm: "150 mm" };

export function MarkedCup({ view, pot }: StationProps & { pot: Schemas["MixPot"] }) {
  const [cup, setCup] = useState<typeof usual>(
    () => JSON.parse(localStorage.getItem(KEY) ?? JSON.stringify(usual)) as typeof usual,
  );
  const [level, setLevel] = useState("");
  const { write, refused } = useWrite(view.id);
  const text = useDebounced(JSON.stringify(cup));
  const marked = useQuery({
    queryKey: ["marks", view.id, pot.id, text, pot.wanted.text],
    queryFn: () =>
      ask(
        api.POST("/api/v1/compute/mixing/marks/{id}/{charge}", {
          params: { path: { id: view.id, charge: pot.id } },
          body: { cup: JSON.parse(text) as object } as never,
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
  const payload =
    pot.hand && known && level.trim() && !mustCombine
      ? {
          charge: pot.id,
          component: pot.hand,
          reading_g: 0,
          resolution_g: 1,
          lot: "",
          mark: { cup: known, level_mm: level },
        }
      : null;
  const dry = useDry(view.id, "pour", payload);
  const seen = dry?.view?.mix.pots.find((p) => p.id === pot.id) ?? pot;
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
      <form
        className="do"
        onSubmit={(e) => {
          e.preventDefault();
          if (payload) void emptying(level, "", setLevel, write("pour", payload));
        }}
      >
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
              <Field
                name="mark.level_mm"
                label={`${pot.hand_name ?? ""} stands at`}
                value={level}
                onChange={setLevel}
                understood={dry?.understood ?? {}}
                {...(at("mark.level_mm", refused?.fields ?? dry?.refusals)
                  ? { error: at("mark.level_mm", refused?.fields ?? dry?.refusals) ?? "" }
                  : {})}
              />
              <Button type="submit" variant="contained" disabled={!payload} name="take-mark">
                Take this level
              </Button>
            </div>
          )
        )}
        {refused && !refused.field && <p className="refusal">{refused.detail}</p>}
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
        {marked.data && <Strip cup={marked.data} />}
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

function Strip({ cup }: { cup: Schemas["Marked"] }) {
  const { floor_mm, rim_mm, height_mm } = cup.cup;
  const scale = 180 / height_mm;
  const half = (width_mm: number) => (width_mm * scale) / 2;
  const y = (level: number) => 190 - level * scale;
  const rows = spread(cup.marks, (m) => y(m.level_mm));
  return (
    <svg
      viewBox="0 0 520 200"
      style={{ width: "100%", maxHeight: 200 }}
      role="img"
      aria-label="The cup with its marks"
    >
      <path
        d={`M${140 - half(rim_mm)} ${y(height_mm)} L${140 - half(floor_mm)} ${y(0)} H${140 + half(floor_mm)} L${140 + half(rim_mm)} ${y(height_mm)}`}
        fill="none"
        stroke="var(--ink)"
        strokeWidth="3"
      />
      {rows.map((m) => (
        <g key={m.name}>
          <path
            d={`M${140 - half(m.width_mm)} ${y(m.level_mm)} H${150 + half(m.width_mm)} L272 ${m.label_y - 5}`}
            stroke="var(--ink)"
            strokeWidth="2"
            fill="none"
          />
          <text x="278" y={m.label_y} fontSize="16" fill="var(--ink)">
            {m.name}, {m.level.text}
          </text>
        </g>
      ))}
    </svg>
  );
}
