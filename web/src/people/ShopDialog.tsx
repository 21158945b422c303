// What the shop says of itself: its name, its zone, alone or a crew. The owner's to change.
import { Button, TextField } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, Refused, type Schemas } from "../api/client";
import { at } from "../api/entry";
import { offered, useWords } from "../api/forms";
import { shopQuery } from "../api/queries";
import { Check } from "../ui/Check";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { FormDialog } from "../ui/FormDialog";
import { Words } from "../ui/Words";

export function ShopLine() {
  const shop = useQuery(shopQuery).data;
  const [open, setOpen] = useState(false);
  if (!shop) return null;
  return (
    <p className="shop-line">
      <b>{shop.name}</b>
      <span className="slate">
        {shop.zone}, {shop.works_alone ? "one person works here" : "a crew works here"}
      </span>
      <Button variant="text" name="edit-shop" aria-haspopup="dialog" onClick={() => setOpen(true)}>
        Change
      </Button>
      {open && <ShopDialog shop={shop} close={() => setOpen(false)} />}
    </p>
  );
}

function ShopDialog({ shop, close }: { shop: Schemas["Shop"]; close: () => void }) {
  const client = useQueryClient();
  const words = useWords();
  const every = shop.check_every_s;
  const [form, setForm] = useState<Schemas["ShopTyped"]>({
    ...shop,
    check_every_s: typeof every === "number" ? `${every / 3600} h` : "",
  });
  const save = useMutation({
    mutationFn: () => ask(api.PUT("/api/v1/shop", { body: form })),
    onSuccess: async () => {
      await client.invalidateQueries();
      close();
    },
  });
  const refusals = save.error instanceof Refused ? save.error.problem.fields : [];
  return (
    <FormDialog
      title="The shop"
      action="Keep it"
      name="save-shop"
      busy={save.isPending}
      submit={() => save.mutate()}
      close={close}
    >
      <Words
        name="shop-name"
        label="Name"
        value={form.name}
        set={(name) => setForm((f) => ({ ...f, name }))}
        most={80}
        wrong={at("shop", refusals)}
        hint="for the card and the labels"
      />
      <TextField
        name="shop-zone"
        label="Time zone"
        value={form.zone}
        onChange={(e) => setForm((f) => ({ ...f, zone: e.target.value }))}
        error={Boolean(at("zone", refusals))}
        helperText={at("zone", refusals) ?? "batches begun keep the zone they were begun in"}
        slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 60 } }}
      />
      <Field
        name="check_every_s"
        label="Check of the ratio, at the latest after"
        value={String(form.check_every_s ?? "")}
        onChange={(check_every_s) => setForm((f) => ({ ...f, check_every_s }))}
        {...(at("check_every_s", refusals) ? { error: at("check_every_s", refusals) ?? "" } : {})}
        hint="at the gun; empty: it stands its twelve hours"
      />
      <Choice
        name="overdue-scale"
        label="A scale whose check is overdue"
        value={form.overdue_scale ?? "widens"}
        set={(overdue_scale) => setForm((f) => ({ ...f, overdue_scale }))}
        options={offered(words.overdue)}
        hint="what is weighed on it"
      />
      <Check
        name="works-alone"
        word="one person does all the work: one signature, short lists, unknown lots noted"
        on={form.works_alone === true}
        set={(works_alone) => setForm((f) => ({ ...f, works_alone }))}
      />
      {save.error && !refusals?.length && <p className="refusal">{save.error.message}</p>}
    </FormDialog>
  );
}
