// Old paper cards, typed into a table, come into the ledger whole or not at all.
import { Button } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Refused, send, type Schemas } from "../api/client";
import { sheetsQuery } from "../api/queries";
import { Choice } from "../ui/Choice";

export function CardsIn({ rig }: { rig: string }) {
  const client = useQueryClient();
  const input = useRef<HTMLInputElement>(null);
  const sheets = (useQuery(sheetsQuery).data ?? []).filter((s) =>
    s.components.some((c) => c.component === "hardener"),
  );
  const [sheet, setSheet] = useState("");
  const read = useMutation({
    mutationFn: (file: File) =>
      send<Schemas["CardsRead"]>("POST", `/api/v1/rigs/${rig}/ledger/cards?sheet=${sheet}`, file, "text/csv"),
    onSuccess: () => client.invalidateQueries(),
  });
  return (
    <details className="cards-in">
      <summary>Type old cards in</summary>
      <p className="small slate">
        A table with the heads of <i>Take as CSV</i>: at, a_g, b_g and resolution_g at the least.
      </p>
      <Choice
        name="cards-sheet"
        label="Of which product"
        value={sheet}
        set={setSheet}
        options={[["", " "], ...sheets.map((s) => [s.id, s.name] as const)]}
        hint=" "
      />
      <input
        ref={input}
        type="file"
        accept=".csv,text/csv"
        aria-label="Table of old cards"
        className="unseen"
        onChange={(e) => {
          const file = e.target.files?.[0];
          if (file) read.mutate(file);
          e.target.value = "";
        }}
      />
      <Button
        variant="outlined"
        name="cards-in"
        disabled={!sheet || read.isPending}
        onClick={() => input.current?.click()}
      >
        {read.isPending ? "Reading …" : "Choose the table"}
      </Button>
      {read.data && <p role="status">{read.data.read} cards are in the ledger.</p>}
      {read.error && (
        <p className="refusal" role="alert">
          {read.error instanceof Refused
            ? (read.error.problem.fields?.[0]?.text ?? read.error.problem.detail)
            : read.error.message}
        </p>
      )}
    </details>
  );
}
