// What is done with a mixed pot: fills for the gun, stirring again, another cup, a second vessel, another batch.
import { Button } from "@mui/material";
import { useRef, useState } from "react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { v7 } from "uuid";
import { api, ask, type Schemas } from "../../api/client";
import { at, useDry, useWrite } from "../../api/entry";
import { meQuery } from "../../api/queries";
import type { StationProps } from "../../batch/station";
import { emptying } from "../../api/turns";
import { Check } from "../../ui/Check";
import { Choice } from "../../ui/Choice";
import { shopTime } from "../../ui/clock";
import { Field } from "../../ui/Field";
import { useScale } from "../../ui/ScaleChoice";

type Props = StationProps & { pot: Schemas["MixPot"] };

export function PotWork({ view, pot }: Props) {
  const zone = useQueryClient().getQueryData(meQuery.queryKey)?.zone ?? "UTC";
  return (
    <>
      <div className="do">
        <span className="label">
          Pot {pot.no}: {pot.left.text} left{pot.born ? `, ${pot.born}` : ""}
        </span>
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
        <span className="label">Gone to the gun</span>
        {pot.fills.length === 0 && <p className="slate">No fill is logged yet.</p>}
        <table className="rows">
          <tbody>
            {pot.fills.map((f) => (
              <tr key={f.at + f.amount.text}>
                <td className="mono nowrap">{shopTime(f.at, zone, view.as_of)}</td>
                <td>{f.into}</td>
                <td className="num">
                  <b>{f.amount.text}</b>
                </td>
                <td className="num">{f.dose?.text ?? ""}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {pot.dose_for_litre && (
          <p>
            The matching dose is <b className="mono">{pot.dose_for_litre.text}</b>: keep it, and the shade
            does not step.
          </p>
        )}
      </div>
    </>
  );
}

function FillForm({ view, pot }: Props) {
  const { write, refused } = useWrite(view.id);
  const [form, setForm] = useState({ into: "pressure_pot", fill_ml: "", dose_g: "" });
  const [stirred, setStirred] = useState(false);
  const [strained, setStrained] = useState(false);
  const payload = form.fill_ml.trim()
    ? {
        charge: pot.id,
        into: form.into,
        fill_ml: form.fill_ml,
        stirred,
        strained,
        ...(form.dose_g.trim() ? { dose_g: form.dose_g } : {}),
      }
    : null;
  const dry = useDry(view.id, "fill", payload);
  const refusals = refused?.fields ?? dry?.refusals;
  return (
    <form
      style={{ display: "grid", gap: 8 }}
      onSubmit={(e) => {
        e.preventDefault();
        if (payload)
          void emptying(form, { ...form, fill_ml: "", dose_g: "" }, setForm, write("fill", payload));
      }}
    >
      <div className="fields">
        <Choice
          name="into"
          label="Into"
          value={form.into}
          set={(into) => setForm((f) => ({ ...f, into }))}
          hint=" "
          options={[
            ["pressure_pot", "the pressure pot"],
            ["gun_cup", "the gun's cup"],
            ["tray", "a tray"],
          ]}
        />
        <Field
          name="fill_ml"
          label="How much"
          value={form.fill_ml}
          onChange={(fill_ml) => setForm((f) => ({ ...f, fill_ml }))}
          understood={dry?.understood ?? {}}
          {...(at("fill_ml", refusals) ? { error: at("fill_ml", refusals) ?? "" } : {})}
        />
        <Field
          name="dose_g"
          label="Additive into it"
          value={form.dose_g}
          onChange={(dose_g) => setForm((f) => ({ ...f, dose_g }))}
          understood={dry?.understood ?? {}}
          hint={pot.dose_for_litre ? `${pot.dose_for_litre.text} matches` : " "}
          {...(at("dose_g", refusals) ? { error: at("dose_g", refusals) ?? "" } : {})}
        />
      </div>
      <div className="actions">
        <Button type="submit" variant="contained" disabled={!payload} name="log-fill">
          Fill
        </Button>
        <Check name="fill-stirred" word="stirred just before" on={stirred} set={setStirred} />
        <Check name="fill-strained" word="strained" on={strained} set={setStrained} />
        {refused && !refused.field && <span className="refusal">{refused.detail}</span>}
      </div>
    </form>
  );
}

function StirAgain({ view, pot }: Props) {
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

function TransferForm({ view, pot }: Props) {
  const { write, refused } = useWrite(view.id);
  const scale = useScale("bench");
  const [reading, setReading] = useState("");
  return (
    <form
      className="actions"
      onSubmit={(e) => {
        e.preventDefault();
        const payload = { charge: pot.id, reading_g: reading, resolution_g: 1, instrument: scale.instrument };
        void emptying(reading, "", setReading, write("transfer", payload));
      }}
    >
      <Field
        name="transfer"
        label="In the other cup, tared"
        value={reading}
        onChange={setReading}
        {...(at("reading_g", refused?.fields) ? { error: at("reading_g", refused?.fields) ?? "" } : {})}
      />
      {scale.choice}
      <Button
        type="submit"
        variant="outlined"
        disabled={!reading.trim() || !scale.instrument}
        name="log-transfer"
      >
        Moved to another cup
      </Button>
    </form>
  );
}

function DivideForm({ view, pot }: Props) {
  const { write, refused } = useWrite(view.id);
  const [part, setPart] = useState("");
  const next = useRef(v7());
  return (
    <form
      className="actions"
      onSubmit={(e) => {
        e.preventDefault();
        const answer = write("divide", { charge: pot.id, new_charge: next.current, part_ml: part });
        void emptying(part, "", setPart, answer).then((ok) => ok && (next.current = v7()));
      }}
    >
      <Field
        name="part_ml"
        label="Into a second vessel"
        value={part}
        onChange={setPart}
        {...(at("part_ml", refused?.fields) ? { error: at("part_ml", refused?.fields) ?? "" } : {})}
      />
      <Button type="submit" variant="outlined" disabled={!part.trim()} name="divide">
        Divide the pot
      </Button>
      {refused && !refused.field && <span className="refusal">{refused.detail}</span>}
    </form>
  );
}

function HandOver({ view, pot }: Props) {
  const client = useQueryClient();
  const id = useRef(v7());
  const [to, setTo] = useState("");
  const hand = useMutation({
    mutationFn: () =>
      ask(
        api.POST("/api/v1/books/{id}/hand-over", {
          params: { path: { id: view.id } },
          body: { id: id.current, charge: pot.id, to_batch: to },
        }),
      ),
    onSuccess: async () => {
      id.current = v7();
      await client.invalidateQueries({ queryKey: ["batch"] });
      await client.invalidateQueries({ queryKey: ["board"] });
    },
    onError: () => (id.current = v7()),
  });
  return (
    <div className="actions">
      <Choice
        name="hand-to"
        label="What is left goes to"
        value={to}
        set={setTo}
        options={[["", " "], ...view.mix.hand_to.map((h) => [h.id, h.label] as const)]}
      />
      <Button
        variant="outlined"
        disabled={!to || hand.isPending}
        name="hand-over"
        onClick={() => hand.mutate()}
      >
        Hand it over
      </Button>
      {hand.error && <span className="refusal">{hand.error.message}</span>}
    </div>
  );
}
