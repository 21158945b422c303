// The pieces of the shop: what each is, and which rigs it is fitted to. A changed piece changes its rigs.
import { Button } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { piecesQuery, rigFormsQuery } from "../api/queries";
import { Choice } from "../ui/Choice";
import { ExportLink } from "../ui/ExportLink";
import { PieceDialog } from "./PieceDialog";

export function Pieces({ mayEdit }: { mayEdit: boolean }) {
  const pieces = useQuery(piecesQuery);
  const forms = useQuery(rigFormsQuery).data;
  const [kind, setKind] = useState("");
  const [editing, setEditing] = useState<Schemas["PieceView"] | "new" | null>(null);
  if (pieces.error && !pieces.data) return <p className="refusal">{pieces.error.message}</p>;
  if (!pieces.data || !forms) return <p className="slate">Reading the shelf.</p>;
  const word = Object.fromEntries(forms.pieces.map((p) => [p.kind, p.word]));
  const shown = pieces.data.filter((p) => !kind || p.piece.kind === kind);
  return (
    <>
      <div className="actions">
        {mayEdit && (
          <Button
            variant="contained"
            name="new-piece"
            aria-haspopup="dialog"
            onClick={() => setEditing("new")}
          >
            A new piece
          </Button>
        )}
        <Choice
          name="piece-filter"
          label="Which kind"
          value={kind}
          set={setKind}
          options={[["", "every kind"], ...forms.pieces.map((p) => [p.kind, p.word] as const)]}
        />
        <ExportLink href="/api/v1/pieces/export" />
      </div>
      {pieces.data.length === 0 && (
        <p className="slate">No piece is kept. A hose or a gun kept once is fitted to any rig.</p>
      )}
      <div className="table-room">
        <table className="rows">
          <thead>
            <tr>
              <th>Piece</th>
              <th>Kind</th>
              <th>Its figures</th>
              <th>On</th>
            </tr>
          </thead>
          <tbody>
            {shown.map((p) => (
              <tr key={p.id}>
                <td>
                  {mayEdit ? (
                    <button
                      type="button"
                      className="link"
                      name={`piece-${p.piece.name}`}
                      aria-haspopup="dialog"
                      onClick={() => setEditing(p)}
                    >
                      {p.piece.name}
                    </button>
                  ) : (
                    <b>{p.piece.name}</b>
                  )}
                  {p.retired && <span className="small slate"> not used any more</span>}
                </td>
                <td className="nowrap">{word[p.piece.kind]}</td>
                <td className="slate">{p.facts}</td>
                <td className={p.rigs.length > 1 ? "" : "slate"}>{p.rigs.join("; ") || "the shelf"}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {editing && (
        <PieceDialog
          piece={editing === "new" ? null : editing}
          forms={forms}
          close={() => setEditing(null)}
        />
      )}
    </>
  );
}
