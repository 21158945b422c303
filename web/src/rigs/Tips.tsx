// Codes of airless tips: what one says, and the shop's own table of codes that follow another rule.
import { Button } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, Refused, type Schemas } from "../api/client";
import { at } from "../api/entry";
import { tipsQuery } from "../api/queries";
import { Field } from "../ui/Field";
import { Words } from "../ui/Words";
import { tipWords, useTip } from "./Figure";
import { Picture } from "../ui/Picture";

const EMPTY = { code: "", angle_deg: "", hole_mm: "" };

export function Tips({ mayEdit }: { mayEdit: boolean }) {
  const client = useQueryClient();
  const rows = useQuery(tipsQuery);
  const [code, setCode] = useState("517");
  const tip = useTip(code);
  const [form, setForm] = useState(EMPTY);
  const done = async () => {
    setForm(EMPTY);
    await client.invalidateQueries({ queryKey: ["tips"] });
    await client.invalidateQueries({ queryKey: ["tip"] });
  };
  const keep = useMutation({
    mutationFn: () => ask(api.PUT("/api/v1/tips", { body: { tip: form } })),
    onSuccess: done,
  });
  const drop = useMutation({
    mutationFn: (code: string) => ask(api.DELETE("/api/v1/tips/{code}", { params: { path: { code } } })),
    onSuccess: done,
  });
  const refusals = keep.error instanceof Refused ? keep.error.problem.fields : [];
  const seen = tip.error ? undefined : tip.data;
  const field = (name: "angle_deg" | "hole_mm", label: string) => (
    <Field
      name={name}
      label={label}
      value={form[name]}
      onChange={(t) => setForm((f) => ({ ...f, [name]: t }))}
      {...(at(name, refusals) ? { error: at(name, refusals) ?? "" } : {})}
    />
  );
  return (
    <div className="tips-two">
      <section aria-label="What a code says">
        <Words
          name="decode"
          label="Code of a tip"
          value={code}
          set={setCode}
          most={12}
          mono
          wrong={tip.error?.message}
          hint={seen?.by_table ? "by the shop’s table" : "by the common rule"}
        />
        {seen && (
          <>
            <Fan tip={seen} />
            <p>{tipWords(seen)}.</p>
          </>
        )}
        <p className="small slate">
          By the common rule twice the first figure is the fan in inches, held twelve inches off; the other
          two are the hole in thousandths of an inch. A reversible tip is cleared by turning it, never with
          wire.
        </p>
      </section>
      <section aria-label="The shop’s table">
        <span className="label">Codes that follow another rule</span>
        {rows.data?.length === 0 && <p className="slate">None. Every tip here follows the common rule.</p>}
        <table className="rows">
          <tbody>
            {rows.data?.map((r) => (
              <tr key={r.code}>
                <td className="mono">
                  <b>{r.code}</b>
                </td>
                <td className="num">{r.angle.text}</td>
                <td className="num">{r.hole.text}</td>
                <td className="num slate">fan {r.geometric_fan.text}</td>
                <td>
                  {mayEdit && (
                    <button
                      type="button"
                      className="link"
                      name={`drop-${r.code}`}
                      onClick={() => drop.mutate(r.code)}
                    >
                      Take off
                    </button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {mayEdit && (
          <form
            onSubmit={(e) => {
              e.preventDefault();
              keep.mutate();
            }}
          >
            <div className="fields three">
              <Words
                name="code"
                label="Code"
                value={form.code}
                set={(text) => setForm((f) => ({ ...f, code: text }))}
                most={12}
                mono
                wrong={at("code", refusals)}
                hint="as it is stamped"
              />
              {field("angle_deg", "Angle")}
              {field("hole_mm", "Hole")}
            </div>
            <Button type="submit" variant="outlined" name="keep-tip" disabled={keep.isPending}>
              Put into the table
            </Button>
            {keep.error && refusals?.length === 0 && <p className="refusal">{keep.error.message}</p>}
          </form>
        )}
      </section>
    </div>
  );
}

/** The fan as it leaves the tip, to its angle. */
function Fan({ tip }: { tip: Schemas["TipView"] }) {
  const half = (Number.parseFloat(tip.angle.figure) * Math.PI) / 360;
  const reach = Math.tan(half) * 120;
  return (
    <Picture
      viewBox="-150 -16 300 160"
      aria-label={`Fan of ${tip.angle.text}`}
      style={{ width: "100%", maxHeight: 180 }}
    >
      <path d={`M0 0L${-reach} 120H${reach}Z`} fill="var(--wash)" stroke="var(--verdigris)" strokeWidth="2" />
      <path d="M-10 -14H10V-4L4 0H-4L-10 -4Z" fill="var(--ground)" stroke="var(--ink)" strokeWidth="2.5" />
      <path d={`M${-reach} 128H${reach}`} stroke="var(--ink)" strokeWidth="2" />
      <text x="0" y="142" textAnchor="middle" fill="var(--ink)">
        {tip.geometric_fan.text}
      </text>
    </Picture>
  );
}
