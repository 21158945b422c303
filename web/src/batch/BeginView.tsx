// Begin a batch: sheet, part, coat, area and film; what it will take stands beside while it is typed.
import { Button } from "@mui/material";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate, useSearch } from "@tanstack/react-router";
import { useRef, useState } from "react";
import { v7 } from "uuid";
import { answered, api, ask, Refused } from "../api/client";
import { useDebounced } from "../api/entry";
import { useTakes } from "../app/takes";
import { proposedQuery, sheetsQuery } from "../api/queries";
import { useForms } from "../api/forms";
import { pieces, TakeOff, type PieceForm } from "../stations/mix/TakeOff";
import { Empty, Failed, Loading } from "../ui/states";
import { SlabPicture } from "../ui/pictures/SlabPicture";
import { WorkingSheet } from "../ui/WorkingSheet";
import { BeginFields } from "./BeginFields";
import { ComesNext } from "./ComesNext";
import { begunWith, filledBy, missing, wanted, type BeginForm } from "./beginForm";

export function BeginView() {
  const sheets = useQuery(sheetsQuery);
  const asked = useSearch({ from: "/begin" });
  const [typed, setTyped] = useState<Partial<BeginForm>>(() => begunWith(asked));
  const [batch, defect] = (asked.repairs ?? "").split("/");
  const repairs = batch && defect ? { batch, defect } : null;
  const [shapes, setShapes] = useState<PieceForm[]>([]);
  const known = useForms().shapes;
  const id = useRef(v7());
  const client = useQueryClient();
  const navigate = useNavigate();
  // What is known of the part, its coat and the sheet fills what is not typed.
  const part = useDebounced(typed.part ?? "");
  const coat = useDebounced(typed.coat ?? "");
  const proposed = useQuery(proposedQuery(part, coat, typed.sheet ?? ""));
  const fields = proposed.data?.fields ?? {};
  // Until the answer is of what is typed now, nothing is begun: it may be filled for another part.
  const settled = !proposed.isPlaceholderData && part === (typed.part ?? "") && coat === (typed.coat ?? "");
  const form = filledBy(typed, fields);
  // A label scanned into the field of the part becomes the name of the part.
  const scannedPart = settled ? proposed.data?.part : null;
  if (scannedPart && typed.part !== scannedPart) setTyped({ ...typed, part: scannedPart });
  useTakes((row) => {
    if (row.is === "part") setTyped((t) => ({ ...t, part: row.label }));
    return row.is === "part";
  });
  const takeoff = pieces(shapes, known);
  const plain = wanted(form, takeoff);
  const said = plain && { ...plain, repairs };
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
      if (answered(e)) id.current = v7();
    },
  });
  const put = (change: Partial<BeginForm>) => {
    begin.reset();
    setTyped((t) => ({ ...t, ...change }));
  };
  if (sheets.isPending) return <Loading what="the sheets" />;
  if (sheets.error && !sheets.data)
    return <Failed error={sheets.error} again={() => void sheets.refetch()} />;
  if (sheets.data.length === 0)
    return <Empty>No sheet is entered yet. A batch begins with its product sheet.</Empty>;
  const unread = proposed.error instanceof Refused ? proposed.error.problem.fields : null;
  const refusals = unread
    ? unread
    : begin.error instanceof Refused
      ? begin.error.problem.fields
      : said
        ? dry?.refusals
        : [];
  const view = said ? dry?.view : undefined;
  const lacks = missing(form, takeoff !== null);
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
          put={put}
          from={(name) => (name in typed ? undefined : fields[name]?.from)}
          understood={said ? dry?.understood : undefined}
          refusals={refusals}
          byShapes={shapes.length > 0}
        />
        <TakeOff forms={shapes} set={setShapes} />
        <div className="foot">
          {repairs && (
            <p className="small">
              It repairs a defect: clean it, scuff it, spray it. The lists of Ready ask for each.
            </p>
          )}
          <div className="actions">
            <Button
              type="submit"
              variant="contained"
              disabled={!said || !settled || begin.isPending}
              name="begin-batch"
              aria-describedby="begin-why"
            >
              Begin
            </Button>
            {lacks.length > 0 && (
              <span id="begin-why" className="slate">
                Still needed: {lacks.join(", ")}.
              </span>
            )}
            {lacks.length === 0 && !settled && (
              <span id="begin-why" className="slate">
                Looking up this part …
              </span>
            )}
            {begin.error && (
              <span className="refusal" role="alert">
                {begin.error.message}
              </span>
            )}
          </div>
        </div>
      </div>
      <div className="see" aria-live="polite">
        {view ? (
          <>
            <h2>What it will take</h2>
            <div>
              <span className="live mono">{view.need.figure}</span> {view.need.unit} of finished paint
            </div>
            <p className="slate">{view.subtitle}</p>
            <SlabPicture film={view.wet.text} need={view.need} />
            <WorkingSheet working={view.mix?.need_working} last={4} />
          </>
        ) : (
          <>
            <h2>Planned, and next on its part</h2>
            {refusals?.[0] && <p className="refusal">{refusals[0].text}</p>}
            <ComesNext
              next={proposed.data?.next ?? []}
              choose={({ part, coat }) => setTyped({ part, coat })}
            />
            <SlabPicture />
          </>
        )}
      </div>
    </form>
  );
}
