// People and where they are signed in. The owner keeps people; everybody sees and ends their own sessions.
import { Button, MenuItem, TextField } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, Refused, type Schemas } from "../api/client";
import { useWords } from "../api/forms";
import { at } from "../api/entry";
import { keptQuery, meQuery, sessionsQuery } from "../api/queries";
import { shopTime } from "../ui/clock";
import { FormDialog } from "../ui/FormDialog";
import { Failed, Loading } from "../ui/states";
import { Words } from "../ui/Words";
import { Checkpoints } from "./Checkpoints";
import { ShopLine } from "./ShopDialog";

export function PeopleView() {
  const me = useQuery(meQuery).data;
  if (!me) return <Loading what="who is here" />;
  return (
    <>
      <div className="board-head" style={{ marginBottom: 8 }}>
        <h1>People</h1>
        <span className="slate">
          {me.may_keep_people
            ? "who works here, and where they are signed in"
            : "where you are signed in; the owner keeps the names"}
        </span>
      </div>
      {me.may_keep_people && <ShopLine />}
      {me.may_keep_people && <Kept me={me} />}
      <Sessions me={me} />
      <Checkpoints me={me} />
    </>
  );
}

function Kept({ me }: { me: Schemas["Me"] }) {
  const words = useWords();
  const people = useQuery(keptQuery);
  const client = useQueryClient();
  const [pinOf, setPinOf] = useState<Schemas["Kept"] | null>(null);
  const [adding, setAdding] = useState(false);
  const change = useMutation({
    mutationFn: ({ id, body }: { id: string; body: Schemas["Change"] }) =>
      ask(api.PUT("/api/v1/people/{id}", { params: { path: { id } }, body })),
    onSettled: () =>
      client.invalidateQueries({ predicate: (q) => ["people", "sessions"].includes(String(q.queryKey[0])) }),
  });
  if (people.isPending) return <Loading what="the names" />;
  if (people.error && !people.data)
    return <Failed error={people.error} again={() => void people.refetch()} />;
  const time = (t?: string | null) => (t ? shopTime(t, me.zone, me.now) : "never");
  return (
    <>
      {change.error && (
        <p className="refusal" role="alert">
          {change.error.message}
        </p>
      )}
      <div className="list" style={{ flex: "none", maxHeight: "50%" }}>
        <table className="rows">
          <thead>
            <tr>
              <th>Name</th>
              <th>Role</th>
              <th>Last seen</th>
              <th>PIN</th>
              <th>State</th>
            </tr>
          </thead>
          <tbody>
            {people.data.map((p) => (
              <tr key={p.id}>
                <td>
                  <b>{p.name}</b>
                  {p.id === me.id && <span className="slate"> you</span>}
                </td>
                <td style={{ width: 170 }}>
                  <TextField
                    select
                    value={p.role}
                    name={`role-${p.name}`}
                    disabled={p.retired || change.isPending}
                    onChange={(e) =>
                      change.mutate({ id: p.id, body: { role: e.target.value as Schemas["Role"] } })
                    }
                    slotProps={{ select: { native: true }, htmlInput: { "aria-label": `Role of ${p.name}` } }}
                  >
                    {words.role.map((r) => (
                      <option key={r.value} value={r.value}>
                        {r.word}
                      </option>
                    ))}
                  </TextField>
                </td>
                <td className="mono nowrap">{time(p.last_seen)}</td>
                <td>
                  <Button
                    variant="text"
                    name={`pin-${p.name}`}
                    aria-haspopup="dialog"
                    onClick={() => setPinOf(p)}
                  >
                    Set anew
                  </Button>
                </td>
                <td>
                  <Button
                    variant="outlined"
                    name={`retire-${p.name}`}
                    disabled={change.isPending}
                    onClick={() => change.mutate({ id: p.id, body: { retired: !p.retired } })}
                  >
                    {p.retired ? "Bring back" : "Retire"}
                  </Button>
                  {p.retired && <span className="slate small"> retired</span>}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <div className="actions" style={{ margin: "10px 0" }}>
        <Button variant="contained" name="add-person" aria-haspopup="dialog" onClick={() => setAdding(true)}>
          Add a person
        </Button>
      </div>
      {adding && <AddDialog close={() => setAdding(false)} />}
      {pinOf && <PinDialog person={pinOf} close={() => setPinOf(null)} />}
    </>
  );
}

function AddDialog({ close }: { close: () => void }) {
  const words = useWords();
  const client = useQueryClient();
  const [form, setForm] = useState({ name: "", role: "applicator" as Schemas["Role"], pin: "" });
  const add = useMutation({
    mutationFn: () => ask(api.POST("/api/v1/people", { body: form })),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ["people"] });
      close();
    },
  });
  const refusals = add.error instanceof Refused ? add.error.problem.fields : [];
  return (
    <FormDialog
      title="Add a person"
      action="Add"
      name="save-person"
      busy={add.isPending}
      submit={() => add.mutate()}
      close={close}
    >
      <Words
        name="new-name"
        label="Name"
        value={form.name}
        set={(text) => setForm((f) => ({ ...f, name: text }))}
        most={80}
        wrong={at("name", refusals)}
        hint="as the log will show it"
        autoFocus
      />
      <TextField
        select
        label="Role"
        value={form.role}
        onChange={(e) => setForm((f) => ({ ...f, role: e.target.value as Schemas["Role"] }))}
      >
        {words.role.map((r) => (
          <MenuItem key={r.value} value={r.value}>
            {r.word}
          </MenuItem>
        ))}
      </TextField>
      <PinField
        value={form.pin}
        error={at("pin", refusals)}
        onChange={(pin) => setForm((f) => ({ ...f, pin }))}
      />
      {add.error && !refusals?.length && <p className="refusal">{add.error.message}</p>}
    </FormDialog>
  );
}

function PinDialog({ person, close }: { person: Schemas["Kept"]; close: () => void }) {
  const client = useQueryClient();
  const [pin, setPin] = useState("");
  const save = useMutation({
    mutationFn: () =>
      ask(api.PUT("/api/v1/people/{id}", { params: { path: { id: person.id } }, body: { pin } })),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ["sessions"] });
      close();
    },
  });
  const refusals = save.error instanceof Refused ? save.error.problem.fields : [];
  return (
    <FormDialog
      title={`New PIN for ${person.name}`}
      action="Set it"
      name="save-pin"
      busy={save.isPending}
      submit={() => save.mutate()}
      close={close}
    >
      <p>Every session of theirs ends; they sign in with the new one.</p>
      <PinField value={pin} error={at("pin", refusals)} onChange={setPin} />
    </FormDialog>
  );
}

function PinField({
  value,
  error,
  onChange,
}: {
  value: string;
  error?: string;
  onChange: (pin: string) => void;
}) {
  const digits = useQuery(meQuery).data?.pin_digits ?? 6;
  return (
    <TextField
      label="PIN"
      name="new-pin"
      type="password"
      value={value}
      onChange={(e) => onChange(e.target.value.replace(/\D/g, ""))}
      error={Boolean(error)}
      helperText={error ?? `${digits} to 12 digits, no runs and no repeats`}
      autoComplete="new-password"
      slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 12, inputMode: "numeric" } }}
    />
  );
}

function Sessions({ me }: { me: Schemas["Me"] }) {
  const sessions = useQuery(sessionsQuery);
  const client = useQueryClient();
  const end = useMutation({
    mutationFn: (id: string) => ask(api.DELETE("/api/v1/sessions/{id}", { params: { path: { id } } })),
    onSettled: () => client.invalidateQueries({ queryKey: ["sessions"] }),
  });
  if (sessions.isPending) return <Loading what="the sessions" />;
  if (sessions.error && !sessions.data)
    return <Failed error={sessions.error} again={() => void sessions.refetch()} />;
  const time = (t: string) => shopTime(t, me.zone, me.now);
  return (
    <>
      <h2 style={{ fontSize: 20 }}>Signed in</h2>
      <div className="list whole">
        <table className="rows">
          <thead>
            <tr>
              <th>Who</th>
              <th>Since</th>
              <th>Last seen</th>
              <th>From</th>
              <th>End it</th>
            </tr>
          </thead>
          <tbody>
            {sessions.data.map((s) => (
              <tr key={s.id} className={s.this_one ? "now" : ""}>
                <td>
                  <b>{s.person}</b>
                  {s.this_one && <span className="slate"> here, now</span>}
                </td>
                <td className="mono nowrap">{time(s.opened)}</td>
                <td className="mono nowrap">{time(s.last_seen)}</td>
                <td className="mono small">{s.opened_from || "–"}</td>
                <td>
                  {s.this_one ? (
                    <span className="slate">sign out under your name</span>
                  ) : (
                    <Button variant="text" disabled={end.isPending} onClick={() => end.mutate(s.id)}>
                      End
                    </Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
