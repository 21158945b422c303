// What one asks again and again, under a name: a tap asks it, and the newest of a name is the one that is kept.
import { Button, TextField } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, Refused, type Schemas } from "../api/client";
import { viewsQuery } from "../api/queries";
import { FormDialog } from "../ui/FormDialog";

type Asks = Schemas["ViewAsks"];

export function SavedViews({
  asks,
  asked,
  open,
}: {
  asks: Asks;
  asked: boolean;
  open: (asks: Asks) => void;
}) {
  const views = useQuery(viewsQuery).data ?? [];
  const queries = useQueryClient();
  const [naming, setNaming] = useState(false);
  const [forgetting, setForgetting] = useState(false);
  const [name, setName] = useState("");
  const again = () => queries.invalidateQueries({ queryKey: viewsQuery.queryKey });
  const keep = useMutation({
    mutationFn: () =>
      ask(api.PUT("/api/v1/records/views", { body: { id: crypto.randomUUID(), name, asks } })),
    onSuccess: () => {
      setNaming(false);
      setName("");
      void again();
    },
  });
  const forget = useMutation({
    mutationFn: (id: string) => ask(api.DELETE("/api/v1/records/views/{id}", { params: { path: { id } } })),
    onSuccess: () => void again(),
  });
  if (views.length === 0 && !asked) return null;
  const why = keep.error instanceof Refused ? keep.error.problem.detail : "";
  return (
    <div className="saved-views" role="group" aria-label="Saved views">
      {views.map((v) => (
        <Button
          key={v.id}
          variant="outlined"
          name="saved-view"
          color={forgetting ? "error" : "primary"}
          onClick={() => (forgetting ? forget.mutate(v.id) : open(v.asks))}
        >
          {forgetting ? `Forget ${v.name}` : v.name}
        </Button>
      ))}
      {asked && !forgetting && (
        <Button name="keep-view" onClick={() => setNaming(true)} aria-haspopup="dialog">
          Keep what is asked
        </Button>
      )}
      {views.length > 0 && (
        <Button name="forget-views" aria-pressed={forgetting} onClick={() => setForgetting(!forgetting)}>
          {forgetting ? "Done" : "Forget one"}
        </Button>
      )}
      {naming && (
        <FormDialog
          title="Keep what is asked"
          action="Keep it"
          name="keep-view-go"
          busy={keep.isPending}
          needs={!name.trim() && "a name"}
          submit={() => keep.mutate()}
          close={() => setNaming(false)}
        >
          <p>It is yours alone. A name you have used before is written over.</p>
          <TextField
            label="Name"
            name="view-name"
            value={name}
            onChange={(e) => setName(e.target.value)}
            autoFocus
            error={Boolean(why)}
            helperText={why || "primer this month, flumes of the quarter …"}
            slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 60 } }}
          />
        </FormDialog>
      )}
    </div>
  );
}
