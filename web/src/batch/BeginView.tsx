// Begin a batch: sheet, part, coat, area and film; what it will take stands beside while it is typed.
import { Button } from "@mui/material";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate, useSearch } from "@tanstack/react-router";
import { useRef, useState } from "react";
import { v7 } from "uuid";
import { api, ask, Refused } from "../api/client";
import { useDebounced } from "../api/entry";
import { sheetsQuery } from "../api/queries";
import { useForms } from "../api/forms";
import { pieces, TakeOff, type PieceForm } from "../stations/mix/TakeOff";
import { Empty, Failed, Loading } from "../ui/states";
import { WorkingSheet } from "../ui/WorkingSheet";
import { BeginFields } from "./BeginFields";
import { EMPTY, wanted, type BeginForm } from "./beginForm";

export function BeginView() {
  const sheets = useQuery(sheetsQuery);
  const { part: named, coat: asked } = useSearch({ from: "/begin" });
  const [form, setForm] = useState<BeginForm>({ ...EMPTY, part: named ?? "", coat: asked ?? "" });
  const [shapes, setShapes] = useState<PieceForm[]>([]);
  const known = useForms().shapes;
  const id = useRef(v7());
  const client = useQueryClient();
  const navigate = useNavigate();
  const said = wanted(form, pieces(shapes, known));
  const held = useDebounced(JSON.stringify(said));
  const post = (book: string, body: NonNullable<typeof said>, dry_run: boolean) =>
    ask(
      api.POST("/api/v1/batches", {
        params: { query: { dry_run, view: true, station: "mix" } },
        body: { id: book, wanted: body },
      }),
    );
  const dry = useQuery({
    queryKey: ["dry-begin", held],
    queryFn: () => post(v7(), JSON.parse(held) as NonNullable<typeof said>, true),
    enabled: held !== "null",
    placeholderData: keepPreviousData,
    gcTime: 0,
    retry: false,
  }).data;
  const begin = useMutation({
    mutationFn: (body: NonNullable<typeof said>) => post(id.current, body, false),
    onSuccess: async (written) => {
      await client.invalidateQueries({ queryKey: ["board"] });
      if (written.view)
        await navigate({ to: "/batches/$id", params: { id: written.view.id }, search: { at: 1 } });
    },
    onError: (e) => {
      if (e instanceof Refused && e.problem.status !== 0) id.current = v7();
    },
  });
  if (sheets.isPending) return <Loading what="the sheets" />;
  if (sheets.error) return <Failed error={sheets.error} again={() => void sheets.refetch()} />;
  if (sheets.data.length === 0)
    return <Empty>No sheet is entered yet. A batch begins with its product sheet.</Empty>;
  const refusals = begin.error instanceof Refused ? begin.error.problem.fields : said ? dry?.refusals : [];
  const view = said ? dry?.view : undefined;
  return (
    <form
      className="station"
      onSubmit={(e) => {
        e.preventDefault();
        if (said) begin.mutate(said);
      }}
    >
      <div className="do">
        <BeginFields
          sheets={sheets.data}
          form={form}
          put={(change) => {
            begin.reset();
            setForm((f) => ({ ...f, ...change }));
          }}
          understood={said ? dry?.understood : undefined}
          refusals={refusals}
          byShapes={shapes.length > 0}
        />
        <TakeOff forms={shapes} set={setShapes} />
        <div className="actions">
          <Button type="submit" variant="contained" disabled={!said || begin.isPending} name="begin-batch">
            Begin
          </Button>
          {begin.error && (
            <span className="refusal" role="alert">
              {begin.error.message}
            </span>
          )}
        </div>
      </div>
      <div className="see" aria-live="polite">
        <h2>What it will take</h2>
        {view ? (
          <>
            <div>
              <span className="live mono">{view.need.figure}</span> {view.need.unit} of finished paint
            </div>
            <p className="slate">{view.subtitle}</p>
            <WorkingSheet working={view.mix?.need_working} last={4} />
          </>
        ) : (
          <p className="slate">
            {refusals?.[0]?.text ??
              "Choose the sheet, name the part and its coat, give area and film. The need stands here then."}
          </p>
        )}
      </div>
    </form>
  );
}
