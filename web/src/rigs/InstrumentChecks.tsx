// Scales and gauges have a life: when each was checked, against what, what it found, when it is due again, what it put in doubt.
import { Button } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { v7 } from "uuid";
import { api, ask, Refused, type Schemas } from "../api/client";
import { at } from "../api/entry";
import { instrumentsQuery, meQuery } from "../api/queries";
import { Act } from "../ui/Act";
import { AskReason } from "../ui/AskReason";
import { shopTime } from "../ui/clock";
import { Field } from "../ui/Field";
import { FormDialog } from "../ui/FormDialog";
import { Words } from "../ui/Words";

type Instrument = Schemas["Instrument"];
type Entry = Schemas["NewInstrumentEntry"];

export function InstrumentChecks({ mayEdit }: { mayEdit: boolean }) {
  const all = useQuery(instrumentsQuery).data ?? [];
  const checked = all.filter((i) => i.kind === "scale" || i.kind === "gauge");
  return (
    <section className="checks" aria-label="Checks of scales and gauges">
      <h2>Checked and due</h2>
      <table className="rows">
        <thead>
          <tr>
            <th>Instrument</th>
            <th>Last check</th>
            <th>Due</th>
            <th>In doubt</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {checked.map((i) => (
            <Row key={i.id} instrument={i} />
          ))}
        </tbody>
      </table>
      {mayEdit && <AGauge />}
    </section>
  );
}

const stateQuery = (id: string) => ({
  queryKey: ["instruments", id],
  queryFn: () => ask(api.GET("/api/v1/instruments/{id}", { params: { path: { id } } })),
});

function useBook(id: string, then: () => void) {
  const client = useQueryClient();
  // Made when the form is armed, renewed after the answer: a double tap is one entry.
  const [entry, setEntry] = useState(() => v7());
  return useMutation({
    mutationFn: (said: Pick<Entry, "kind" | "payload">) =>
      ask(
        api.POST("/api/v1/instruments/{id}/entries", {
          params: { path: { id } },
          // A kind and its payload came together, and stay together.
          body: { id: entry, ...said, ago_s: 0 } as Entry,
        }),
      ),
    onSuccess: async () => {
      setEntry(v7());
      await client.invalidateQueries({ queryKey: ["instruments"] });
      then();
    },
  });
}

function Row({ instrument }: { instrument: Instrument }) {
  const me = useQuery(meQuery).data;
  const state = useQuery(stateQuery(instrument.id)).data;
  const [open, setOpen] = useState<"check" | "marks" | null>(null);
  const day = (t: string | null | undefined) => (t ? shopTime(t, me?.zone ?? "UTC", me?.now) : "–");
  const waiting = state?.marks.filter((m) => !m.answered).length ?? 0;
  return (
    <tr>
      <td>
        <b>{instrument.name}</b>
        <div className="small slate">
          {instrument.kind}, {instrument.shown.text}
        </div>
      </td>
      <td className={state?.last && !state.good ? "word-out" : ""}>
        {state?.last ?? <span className="slate">never written</span>}
        {state?.checked && <div className="small slate">{day(state.checked)}</div>}
      </td>
      <td className={state?.overdue ? "word-tell nowrap" : "nowrap"}>
        {day(state?.due)}
        {state?.overdue && <div className="small">overdue</div>}
      </td>
      <td>
        {state && state.marks.length > 0 ? (
          <button
            type="button"
            className="link"
            name={`marks-${instrument.name}`}
            aria-haspopup="dialog"
            onClick={() => setOpen("marks")}
          >
            {waiting > 0 ? `${waiting} to answer` : `${state.marks.length} answered`}
          </button>
        ) : (
          <span className="slate">nothing</span>
        )}
      </td>
      <td>
        <Button
          variant="outlined"
          name={`check-${instrument.name}`}
          aria-haspopup="dialog"
          onClick={() => setOpen("check")}
        >
          Check it
        </Button>
        {open === "check" && <CheckDialog instrument={instrument} close={() => setOpen(null)} />}
        {open === "marks" && state && (
          <Marks instrument={instrument} marks={state.marks} close={() => setOpen(null)} />
        )}
      </td>
    </tr>
  );
}

function CheckDialog({ instrument, close }: { instrument: Instrument; close: () => void }) {
  const gauge = instrument.kind === "gauge";
  const unit = gauge ? "kpa" : "g";
  const [form, setForm] = useState({ known: "", read: "", empty: "", against: "", again: "90" });
  const write = useBook(instrument.id, close);
  const refusals = write.error instanceof Refused ? write.error.problem.fields : [];
  const field = (name: "known" | "read" | "empty", label: string, hint?: string) => (
    <Field
      name={`${name}_${unit}`}
      label={label}
      value={form[name]}
      onChange={(text) => setForm((f) => ({ ...f, [name]: text }))}
      {...(at(`${name}_${unit}`, refusals) ? { error: at(`${name}_${unit}`, refusals) ?? "" } : {})}
      {...(hint ? { hint } : {})}
    />
  );
  const payload = () => ({
    [`known_${unit}`]: form.known,
    [`read_${unit}`]: form.read,
    ...(form.empty.trim() ? { [`empty_${unit}`]: form.empty } : {}),
    against: form.against,
    again_day_count: form.again,
  });
  return (
    <FormDialog
      title={`Check ${instrument.name}`}
      action="Keep this check"
      name="keep-check"
      busy={write.isPending}
      submit={() => write.mutate({ kind: "checked", payload: payload() as Schemas["CheckedTyped"] })}
      close={close}
    >
      <Words
        name="against"
        label="Against"
        value={form.against}
        set={(against) => setForm((f) => ({ ...f, against }))}
        most={80}
        wrong={at("against", refusals)}
        hint={gauge ? "which other gauge" : "which known mass"}
      />
      <div className="fields">
        {field("known", gauge ? "The other gauge reads" : "Known mass")}
        {field("read", "This one reads")}
      </div>
      <div className="fields">
        {field("empty", gauge ? "Vented it reads" : "Empty it reads", "tells an offset from a gain error")}
        <Field
          name="again_day_count"
          label="Again in days"
          value={form.again}
          onChange={(again) => setForm((f) => ({ ...f, again }))}
          {...(at("again_day_count", refusals) ? { error: at("again_day_count", refusals) ?? "" } : {})}
        />
      </div>
      {write.error && !refusals?.length && <p className="refusal">{write.error.message}</p>}
    </FormDialog>
  );
}

function Marks(props: { instrument: Instrument; marks: Schemas["ProofInDoubt"][]; close: () => void }) {
  const { instrument, marks, close } = props;
  const me = useQuery(meQuery).data;
  const [asking, setAsking] = useState<Schemas["ProofInDoubt"] | null>(null);
  const write = useBook(instrument.id, () => setAsking(null));
  const refused = write.error instanceof Refused ? write.error.problem : null;
  // One dialog at a time: a form in a form would send both.
  if (asking)
    return (
      <AskReason
        title="Answer this mark"
        text={asking.text}
        action="Keep the answer"
        hint="why it stands, or what was done"
        busy={write.isPending}
        error={at("text", refused?.fields) ?? (refused && !refused.field ? refused.detail : undefined)}
        submit={(text) => write.mutate({ kind: "mark_answered", payload: { proof: asking.proof, text } })}
        close={() => setAsking(null)}
      />
    );
  return (
    <FormDialog
      title={`In doubt since ${instrument.name} was last good`}
      action="Close"
      name="close-marks"
      busy={false}
      submit={close}
      close={close}
    >
      <p className="small slate">
        A mark alters no verdict. A lead answers it, or reopens the batch and proves it again.
      </p>
      {marks.map((m) => (
        <div key={m.proof} className="mark">
          <span className="mono">{shopTime(m.at, me?.zone ?? "UTC", me?.now)}</span>{" "}
          {m.number ? `batch ${String(m.number).padStart(4, "0")}, ` : ""}
          {m.text}
          {m.answered ? (
            <div className="slate">{m.answered}</div>
          ) : (
            <Button variant="outlined" name="answer-mark" onClick={() => setAsking(m)}>
              Answer it
            </Button>
          )}
        </div>
      ))}
    </FormDialog>
  );
}

function AGauge() {
  const client = useQueryClient();
  const [form, setForm] = useState(() => ({ id: v7(), name: "", division_kpa: "" }));
  const keep = useMutation({
    mutationFn: () => ask(api.PUT("/api/v1/instruments/gauges", { body: form })),
    onSuccess: async () => {
      setForm({ id: v7(), name: "", division_kpa: "" });
      await client.invalidateQueries({ queryKey: ["instruments"] });
    },
  });
  const refusals = keep.error instanceof Refused ? keep.error.problem.fields : [];
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        keep.mutate();
      }}
    >
      <span className="label">Another gauge</span>
      <div className="fields">
        <Words
          name="gauge-name"
          label="Name"
          value={form.name}
          set={(name) => setForm((f) => ({ ...f, name }))}
          most={80}
          wrong={at("name", refusals)}
        />
        <Field
          name="division_kpa"
          label="One division"
          value={form.division_kpa}
          onChange={(division_kpa) => setForm((f) => ({ ...f, division_kpa }))}
          {...(at("division_kpa", refusals) ? { error: at("division_kpa", refusals) ?? "" } : {})}
        />
      </div>
      <div className="actions">
        <Act
          name="keep-gauge"
          word="Keep it"
          needs={(!form.name.trim() || !form.division_kpa.trim()) && "its name and one division"}
          quiet
        />
        {keep.error && refusals?.length === 0 && <span className="refusal">{keep.error.message}</span>}
      </div>
    </form>
  );
}
