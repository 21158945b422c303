// The first visit to an empty shop: its owner, what it says of itself, what it measures with. One page, no shell.
import { Button, TextField } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, Refused, sessionOver, type Schemas } from "../api/client";
import { at } from "../api/entry";
import { meQuery } from "../api/queries";
import { Choice } from "../ui/Choice";
import { StepLine } from "../ui/StepLine";
import { Words } from "../ui/Words";

type Asks = Schemas["FirstVisitAsks"];

/** The zone of this machine is the shop's until another is chosen. */
const zoneHere = (zones: string[]) => {
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  return zones.includes(here) ? here : "";
};

export function FirstVisit({ asks }: { asks: Asks }) {
  const client = useQueryClient();
  const [code, setCode] = useState("");
  const [form, setForm] = useState(() => ({
    owner: "",
    pin: "",
    shop: "",
    zone: zoneHere(asks.zones),
    units: "us" as Schemas["UnitSet"],
    works_alone: false,
    scale_resolution_g: "1 g",
    comb: "mil" as Schemas["UsualComb"],
  }));
  const open = useMutation({
    mutationFn: () =>
      ask(api.POST("/api/v1/first-visit", { body: { visit: form, ...(asks.code_needed ? { code } : {}) } })),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: meQuery.queryKey });
      sessionOver.set(false);
      void client.invalidateQueries();
    },
  });
  const refusals = open.error instanceof Refused ? open.error.problem.fields : [];
  const wrong = (field: string) => at(field, refusals);
  const set = <K extends keyof typeof form>(key: K, value: (typeof form)[K]) => {
    open.reset();
    setForm((f) => ({ ...f, [key]: value }));
  };
  const missing = [
    !form.owner.trim() && "your name",
    form.pin.length < asks.pin_digits && `a PIN of ${asks.pin_digits} digits`,
    !form.shop.trim() && "the shop's name",
    !form.zone && "its time zone",
    asks.code_needed && !code.trim() && "the code",
  ].filter(Boolean);
  const choose = (value: boolean, word: string, what: string) => (
    <button
      type="button"
      role="radio"
      aria-checked={form.works_alone === value}
      name={value ? "alone" : "crew"}
      onClick={() => set("works_alone", value)}
    >
      <b>{word}</b>
      <span className="small slate">{what}</span>
    </button>
  );
  return (
    <main className="first-visit">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          open.mutate();
        }}
      >
        <h1>Open your shop</h1>
        <p className="slate">Nobody works here yet. Who opens it is its owner, and adds the others.</p>
        <div className="first-fields">
          {asks.code_needed && (
            <Words
              name="code"
              label="One-time code"
              value={code}
              set={setCode}
              most={20}
              wrong={wrong("code")}
              hint="it stands where the server was started"
              mono
              autoFocus
            />
          )}
          <Words
            name="owner"
            label="Your name"
            value={form.owner}
            set={(t) => set("owner", t)}
            most={80}
            wrong={wrong("owner")}
            hint="as the log will show it"
            autoFocus={!asks.code_needed}
          />
          <TextField
            name="pin"
            label="Your PIN"
            value={form.pin}
            onChange={(e) => set("pin", e.target.value.replace(/\D/g, ""))}
            error={Boolean(wrong("pin"))}
            helperText={
              wrong("pin") ?? `${asks.pin_digits} to 12 digits, no runs and no repeats; seen here only`
            }
            autoComplete="off"
            slotProps={{
              inputLabel: { shrink: true },
              htmlInput: { maxLength: 12, inputMode: "numeric", className: "mono" },
            }}
          />
          <Words
            name="shop"
            label="Name of the shop"
            value={form.shop}
            set={(t) => set("shop", t)}
            most={80}
            wrong={wrong("shop")}
            hint="for the card and the labels"
          />
          <TextField
            name="zone"
            label="Time zone"
            value={form.zone}
            onChange={(e) => set("zone", e.target.value)}
            error={Boolean(wrong("zone"))}
            helperText={wrong("zone") ?? "of this machine; another: type its city"}
            autoComplete="off"
            slotProps={{ inputLabel: { shrink: true }, htmlInput: { list: "zones", maxLength: 60 } }}
          />
          <datalist id="zones">
            {asks.zones.map((z) => (
              <option key={z} value={z} />
            ))}
          </datalist>
        </div>
        <div className="first-choice" role="radiogroup" aria-label="Units">
          {asks.unit_sets.map((u) => (
            <button
              key={u.value}
              type="button"
              role="radio"
              aria-checked={form.units === u.value}
              name={`units-${u.value}`}
              onClick={() => set("units", u.value)}
            >
              <b>{u.word}</b>
              <span className="small slate">{u.units}</span>
            </button>
          ))}
        </div>
        <div className="first-choice two" role="radiogroup" aria-label="Who works here">
          {choose(false, "We are a crew", "nobody accepts work they did alone")}
          {choose(true, "I work alone", "you accept your own work")}
        </div>
        <div className="first-fields">
          <Words
            name="scale_resolution_g"
            label="The scale shows steps of"
            value={form.scale_resolution_g}
            set={(t) => set("scale_resolution_g", t)}
            most={20}
            wrong={wrong("scale_resolution_g")}
            hint="what it shows decides what it can prove"
            mono
          />
          <Choice
            name="comb"
            label="The comb"
            value={form.comb}
            set={(comb) => set("comb", comb)}
            options={asks.combs.map((c) => [c.value, c.word] as const)}
            hint="other teeth: later, under Rigs"
          />
        </div>
        <div className="actions">
          <Button
            type="submit"
            variant="contained"
            name="open-shop"
            disabled={missing.length > 0 || open.isPending}
          >
            Open the shop
          </Button>
          {missing.length > 0 && <span className="slate needs">Still needed: {missing.join(", ")}</span>}
          {open.error && !refusals?.some((r) => r.field) && (
            <span className="refusal" role="alert">
              {open.error.message}
            </span>
          )}
        </div>
      </form>
      <aside aria-label="What comes next">
        <StepLine
          steps={[
            { name: "Shop", line: "you are here", state: "in_work" },
            { name: "Sheet", line: "the maker's figures", state: "not_reached" },
            { name: "Batch", line: "part and area", state: "not_reached" },
            { name: "First cup", line: "weighed, in or out", state: "not_reached" },
          ]}
        />
        <p>
          The first cup is weighed in a few minutes. It needs one product sheet and the area of one part; a
          rig, lots and people can come later.
        </p>
        <p className="slate small">
          What stands here never replaces the maker's data sheet, the law of the place, or those licensed to
          judge.
        </p>
      </aside>
    </main>
  );
}
