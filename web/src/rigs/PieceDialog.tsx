// A piece of the shelf: its kind, its name, its figures.
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { v7 } from "uuid";
import { api, ask, Refused, type Schemas } from "../api/client";
import { at } from "../api/entry";
import { Check } from "../ui/Check";
import { Choice } from "../ui/Choice";
import { FormDialog } from "../ui/FormDialog";
import { Words } from "../ui/Words";
import { bodyOf, Figure, textsOf, type Text } from "./Figure";

export function PieceDialog({
  piece,
  forms,
  close,
}: {
  piece: Schemas["PieceView"] | null;
  forms: Schemas["RigForms"];
  close: () => void;
}) {
  const client = useQueryClient();
  const id = useRef(piece?.id ?? v7());
  const [kind, setKind] = useState<Schemas["PieceKind"]>(piece?.piece.kind ?? "fluid_hose");
  const asks = forms.pieces.find((p) => p.kind === kind)?.asks ?? [];
  const [form, setForm] = useState<Text>(() => ({
    name: piece?.piece.name ?? "",
    ...(piece
      ? textsOf(piece.piece.figures as Record<string, unknown>, piece.texts, asks)
      : { class: "conventional", ladder: "fives" }),
  }));
  const [retired, setRetired] = useState(piece?.retired ?? false);
  const save = useMutation({
    mutationFn: () => {
      const own = new Set(["name", ...asks.map((a) => a.field)]);
      const texts = Object.fromEntries(Object.entries(form).filter(([k]) => own.has(k)));
      const figures: Schemas["PieceForm"] = { name: "", ...bodyOf(texts, asks), kind };
      const body = { id: id.current, piece: figures, retired };
      return piece
        ? ask(api.PUT("/api/v1/pieces/{id}", { params: { path: { id: piece.id } }, body }))
        : ask(api.POST("/api/v1/pieces", { body }));
    },
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ["rigs"] });
      close();
    },
  });
  const refusals = save.error instanceof Refused ? save.error.problem.fields : [];
  const shown = ["name", ...asks.map((a) => a.field)];
  const named =
    save.error && refusals?.some((r) => r.field && shown.includes(r.field)) ? null : save.error?.message;
  return (
    <FormDialog
      title={piece ? piece.piece.name : "A new piece"}
      action="Keep it"
      name="save-piece"
      busy={save.isPending}
      submit={() => save.mutate()}
      close={close}
    >
      <div className="fields">
        <Choice
          name="piece_kind"
          label="It is a"
          value={kind}
          set={setKind}
          options={forms.pieces.map((p) => [p.kind, p.word] as const)}
          disabled={piece !== null}
          hint=" "
        />
        <Words
          name="name"
          label="Name"
          value={form.name ?? ""}
          set={(text) => setForm((f) => ({ ...f, name: text }))}
          most={80}
          wrong={at("name", refusals)}
        />
        {asks.map((a) => (
          <Figure
            key={a.field}
            asks={a}
            form={form}
            set={(name, text) => setForm((f) => ({ ...f, [name]: text }))}
            refusals={refusals}
          />
        ))}
      </div>
      {piece && <Check name="retired" word="not used any more" on={retired} set={setRetired} />}
      {piece && piece.rigs.length > 0 && (
        <p className="small slate">Fitted to {piece.rigs.join("; ")}: what changes here changes there.</p>
      )}
      {named && <p className="refusal">{named}</p>}
    </FormDialog>
  );
}
