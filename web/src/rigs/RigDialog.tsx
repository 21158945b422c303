// A rig put together: its kind, and for each place a piece of the shelf or figures of its own.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { v7 } from "uuid";
import { api, ask, Refused, type Schemas } from "../api/client";
import { at } from "../api/entry";
import { piecesQuery, rigFormsQuery } from "../api/queries";
import { Check } from "../ui/Check";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { FormDialog } from "../ui/FormDialog";
import { Words } from "../ui/Words";
import { KindOfRig } from "./KindOfRig";
import { RigDrawing } from "./RigDrawing";
import { useCompute } from "../api/compute";
import { bodyOf, Figure, textsOf, type Text } from "./Figure";
import { offered, useWords } from "../api/forms";

type Close = (id?: string) => void;

export function RigDialog({ rig, close }: { rig: Schemas["RigView"] | null; close: Close }) {
  const forms = useQuery(rigFormsQuery).data;
  const pieces = useQuery(piecesQuery).data;
  if (!forms || !pieces) return null;
  return <Dialog rig={rig} close={close} forms={forms} pieces={pieces.filter((p) => !p.retired)} />;
}

function Dialog(props: {
  rig: Schemas["RigView"] | null;
  close: Close;
  forms: Schemas["RigForms"];
  pieces: Schemas["PieceView"][];
}) {
  const offers = useWords();
  const { rig, forms, pieces, close } = props;
  const client = useQueryClient();
  const id = useRef(rig?.id ?? v7());
  const all = forms.pieces.flatMap((p) => p.asks);
  const [form, setForm] = useState<Text>(() => ({
    name: rig?.rig.name ?? "",
    kind: rig?.rig.kind ?? "pot",
    gun: rig?.rig.gun ?? "",
    lift_mm: rig?.texts.lift_mm ?? "",
    since: rig?.rig.since ?? "",
    ...(rig ? textsOf(rig.rig, rig.texts, all) : { class: "conventional", ladder: "fives" }),
  }));
  const [fitted, setFitted] = useState<Text>(() => ({ ...((rig?.rig.pieces ?? {}) as Text) }));
  const [fresh, setFresh] = useState(rig?.rig.unflushed ?? false);
  const [retired, setRetired] = useState(rig?.retired ?? false);
  const set = (name: string, text: string) => setForm((f) => ({ ...f, [name]: text }));
  const places = forms.rigs.find((r) => r.kind === form.kind)?.places ?? [];
  const asksOf = (place: string) => forms.pieces.find((p) => p.kind === place);
  const chosen = (place: string) => pieces.find((p) => p.id === fitted[place] && p.piece.kind === place);
  const figures = (): Schemas["RigForm"] => {
    const own = places.filter((p) => !chosen(p)).flatMap((p) => asksOf(p)?.asks ?? []);
    const wanted = ["name", "kind", "lift_mm", "since", "gun", ...own.map((a) => a.field)];
    const texts = Object.fromEntries(Object.entries(form).filter(([k]) => wanted.includes(k)));
    const fit = Object.fromEntries(places.filter((p) => chosen(p)).map((p) => [p, fitted[p] ?? null]));
    return {
      name: "",
      kind: (form.kind ?? "pot") as Schemas["RigKind"],
      ...bodyOf(texts, own),
      pieces: fit,
      unflushed: fresh,
    };
  };
  // Drawn while it is put together, and told what it still needs.
  const drawn = useCompute("rig", figures(), (rig) =>
    ask(api.POST("/api/v1/rigs/understand", { body: { rig } })),
  );
  const save = useMutation({
    mutationFn: () => {
      const body = { id: id.current, rig: figures(), retired };
      return rig
        ? ask(api.PUT("/api/v1/rigs/{id}", { params: { path: { id: rig.id } }, body }))
        : ask(api.POST("/api/v1/rigs", { body }));
    },
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ["rigs"] });
      close(id.current);
    },
  });
  const refusals = (save.error instanceof Refused ? save.error.problem.fields : null) ?? drawn.refusals;
  const words = (name: string, label: string) => (
    <Words
      name={name}
      label={label}
      value={form[name] ?? ""}
      set={(text) => set(name, text)}
      most={80}
      wrong={at(name, refusals)}
    />
  );
  const named = save.error && refusals?.some((r) => r.field) ? null : save.error?.message;
  return (
    <FormDialog
      title={rig ? rig.rig.name : "A new rig"}
      action="Keep it"
      name="save-rig"
      busy={save.isPending}
      submit={() => save.mutate()}
      close={() => close()}
      beside={
        <div aria-live="polite">
          <span className="label">As it stands together</span>
          {drawn.data && <RigDrawing points={drawn.data.points} />}
          {drawn.data?.needs && <p className="advice">{drawn.data.needs}</p>}
          {drawn.data?.troubles.map((t) => (
            <p key={t} className="word-tell">
              {t}
            </p>
          ))}
        </div>
      }
    >
      <KindOfRig kinds={offered(offers.rig_kind)} value={form.kind ?? "pot"} set={(t) => set("kind", t)} />
      <div className="fields">
        {words("name", "Name")}
        <Words
          name="since"
          label="In use since"
          value={form.since ?? ""}
          set={(text) => set("since", text)}
          most={10}
          wrong={at("since", refusals)}
          hint="as 2026-03-01; older cards may be typed in"
        />
        {places.includes("fluid_hose") && (
          <Field
            name="lift_mm"
            label="Gun above the pot"
            value={form.lift_mm ?? ""}
            onChange={(t) => set("lift_mm", t)}
            {...(at("lift_mm", refusals) ? { error: at("lift_mm", refusals) ?? "" } : {})}
          />
        )}
      </div>
      {places.map((place) => {
        const kind = asksOf(place);
        const shelf = pieces.filter((p) => p.piece.kind === place);
        const here = chosen(place);
        return (
          <fieldset key={place} className="rig-place">
            <legend>{kind?.word}</legend>
            {shelf.length > 0 && (
              <Choice
                name={`piece-${place}`}
                label="Which"
                value={here?.id ?? ""}
                set={(t) => setFitted((f) => ({ ...f, [place]: t }))}
                options={[["", "figures of its own"], ...shelf.map((p) => [p.id, p.piece.name] as const)]}
                error={at(`pieces.${place}`, refusals) ?? undefined}
                hint={here?.facts ?? " "}
              />
            )}
            {!here && (
              <div className="fields">
                {place === "gun" && words("gun", "Gun")}
                {kind?.asks.map((a) => (
                  <Figure key={a.field} asks={a} form={form} set={set} refusals={refusals} />
                ))}
              </div>
            )}
          </fieldset>
        );
      })}
      <div className="wrap">
        <Check name="unflushed" word="new: flushed before its first paint" on={fresh} set={setFresh} />
        {rig && <Check name="retired" word="not used any more" on={retired} set={setRetired} />}
      </div>
      {named && <p className="refusal">{named}</p>}
    </FormDialog>
  );
}
