// Places: the temperature of each on its level, and how long it was outside.
import { Button } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { v7 } from "uuid";
import { answered, api, ask, Refused, type Schemas } from "../api/client";
import { at } from "../api/entry";
import { meQuery, placesQuery, probesQuery } from "../api/queries";
import { shopTime } from "../ui/clock";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { FormDialog } from "../ui/FormDialog";
import { Level } from "../ui/Level";
import { Words } from "../ui/Words";

type Place = Schemas["PlaceView"];

export function Places() {
  const places = useQuery(placesQuery).data;
  const me = useQuery(meQuery).data;
  const [reading, setReading] = useState<Place | null>(null);
  const [editing, setEditing] = useState<Place | "new" | null>(null);
  if (!places) return null;
  return (
    <div className="places">
      {places.places.map((p) => (
        <section key={p.id} className="place" aria-label={p.name}>
          <div className="place-head">
            <b className="ellipsis" title={p.name}>
              {p.name}
            </b>
            <span className="small slate nowrap">
              {p.lots} lots{p.holds === "peroxide" ? ", peroxide" : p.holds === "resin" ? ", resin" : ""}
            </span>
          </div>
          {p.level ? (
            <Level level={{ ...p.level, label: "" }} size="list" />
          ) : (
            <p className="small slate">not read yet</p>
          )}
          {p.trace.length > 1 && (
            <svg className="trace" viewBox="0 0 240 36" preserveAspectRatio="none" aria-hidden>
              <rect x="0" y="12" width="240" height="12" fill="var(--vial)" />
              <polyline
                points={p.trace.map((t) => `${t.x * 240},${36 - t.y * 36}`).join(" ")}
                fill="none"
                stroke="var(--ink)"
                strokeWidth="2"
              />
            </svg>
          )}
          <p className="small">
            {p.out_of_band && <b className="word-out">{p.out_of_band} out of band, 7 d </b>}
            <span className={p.old ? "word-tell" : "slate"}>
              {p.read_at &&
                `${p.by_probe ? "probe" : "by hand"}${p.old ? ", old" : ""} ${shopTime(p.read_at, me?.zone ?? "UTC", me?.now)}`}
            </span>
          </p>
          <div className="place-acts">
            <button
              type="button"
              className="link"
              name={`read-${p.name}`}
              aria-haspopup="dialog"
              onClick={() => setReading(p)}
            >
              Read it
            </button>
            {me?.may_edit_sheets && (
              <button
                type="button"
                className="link"
                name={`band-${p.name}`}
                aria-haspopup="dialog"
                onClick={() => setEditing(p)}
              >
                Its band
              </button>
            )}
          </div>
        </section>
      ))}
      {me?.may_edit_sheets && (
        <button
          type="button"
          className="link"
          name="new-place"
          aria-haspopup="dialog"
          onClick={() => setEditing("new")}
        >
          A new place
        </button>
      )}
      {reading && <ReadDialog place={reading} close={() => setReading(null)} />}
      {editing && (
        <BandDialog
          place={editing === "new" ? null : editing}
          schools={places.schools}
          close={() => setEditing(null)}
        />
      )}
    </div>
  );
}

function ReadDialog({ place, close }: { place: Place; close: () => void }) {
  const client = useQueryClient();
  const [temp, setTemp] = useState("");
  const id = useRef(v7());
  const save = useMutation({
    mutationFn: () =>
      ask(
        api.POST("/api/v1/places/{id}/entries", {
          params: { path: { id: place.id } },
          body: { id: id.current, kind: "temperature", payload: { temp_c: temp }, ago_s: 0 },
        }),
      ),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ["lots", "places"] });
      close();
    },
    onError: (e) => {
      if (answered(e)) id.current = v7();
    },
  });
  const refusals = save.error instanceof Refused ? save.error.problem.fields : [];
  return (
    <FormDialog
      title={`${place.name}: temperature`}
      action="Take it"
      name="save-reading"
      busy={save.isPending}
      submit={() => save.mutate()}
      close={close}
    >
      <Field
        name="temp_c"
        label="Temperature"
        value={temp}
        onChange={setTemp}
        error={at("temp_c", refusals)}
        autoFocus
      />
    </FormDialog>
  );
}

function BandDialog({
  place,
  schools,
  close,
}: {
  place: Place | null;
  schools: Schemas["StoreSchool"][];
  close: () => void;
}) {
  const client = useQueryClient();
  const probes = useQuery(probesQuery).data ?? [];
  const [form, setForm] = useState({
    name: place?.name ?? "",
    store_min_c: place?.min?.text ?? "",
    store_max_c: place?.max?.text ?? "",
    probe: place?.probe ?? "",
  });
  const set = (name: keyof typeof form) => (value: string) => setForm((f) => ({ ...f, [name]: value }));
  const save = useMutation({
    mutationFn: () => {
      const body = { place: form };
      return place
        ? ask(api.PUT("/api/v1/places/{id}", { params: { path: { id: place.id } }, body }))
        : ask(api.POST("/api/v1/places", { body }));
    },
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ["lots", "places"] });
      close();
    },
  });
  const refusals = save.error instanceof Refused ? save.error.problem.fields : [];
  return (
    <FormDialog
      title={place ? `${place.name}: its band` : "A new place"}
      action="Save"
      name="save-place"
      busy={save.isPending}
      submit={() => save.mutate()}
      close={close}
    >
      <Words
        name="place-name"
        label="Name"
        value={form.name}
        set={set("name")}
        most={80}
        wrong={at("name", refusals)}
      />
      <div className="actions" role="group" aria-label="Usual bands">
        {schools.map((s) => (
          <Button
            key={s.name}
            variant="outlined"
            onClick={() => setForm((f) => ({ ...f, store_min_c: s.min_c ?? "", store_max_c: s.max_c ?? "" }))}
          >
            {s.name}
          </Button>
        ))}
      </div>
      <div className="fields">
        <Field
          name="store_min_c"
          label="Coldest"
          value={form.store_min_c}
          onChange={set("store_min_c")}
          error={at("store_min_c", refusals)}
        />
        <Field
          name="store_max_c"
          label="Warmest"
          value={form.store_max_c}
          onChange={set("store_max_c")}
          error={at("store_max_c", refusals)}
        />
      </div>
      <Choice
        name="probe"
        label="Probe"
        value={form.probe}
        set={set("probe")}
        hint="one that watches it, if there is one"
        options={[
          ["", "none: read by hand"],
          ...probes.filter((p) => p.of === "store" || p.of === "air").map((p) => [p.name, p.name] as const),
        ]}
      />
      {save.error && !refusals?.length && <p className="refusal">{save.error.message}</p>}
    </FormDialog>
  );
}
