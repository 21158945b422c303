// One box that finds parts, batches, cards, lots, sheets, rigs and people; a scanned label is opened at once.
import { Button, Dialog, TextField } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useEffect, useRef, useState } from "react";
import { Refused, type Schemas } from "../api/client";
import { useDebounced } from "../api/entry";
import { findQuery } from "../api/queries";
import { Camera, cameraReads } from "./Camera";
import { taken } from "./takes";

type Row = Schemas["FoundRow"];

/** Opens what was found. */
function useOpen() {
  const navigate = useNavigate();
  return ({ is, id, label }: Row) => {
    const params = { id };
    switch (is) {
      case "pot":
        return void navigate({ to: "/batches/$id", params, search: { at: 5 } });
      case "batch":
        return void navigate({ to: "/batches/$id", params, search: {} });
      case "card":
        return void navigate({ to: "/batches/$id/card", params });
      case "part":
        return void navigate({ to: "/parts/$id", params });
      case "lot":
        return void navigate({ to: "/stores/$id", params });
      case "sheet":
        return void navigate({ to: "/sheets/$id", params });
      case "rig":
        return void navigate({ to: "/rigs", search: { rig: id } });
      case "person":
        return void navigate({ to: "/records", search: { person: label } });
    }
  };
}

/** `begin`: what stands in it at first; a line of a scanner opens the one thing it names. */
export function Finder({ begin, close }: { begin: string; close: () => void }) {
  const [text, setText] = useState(begin);
  // A line that was scanned, by a scanner or the camera; what is typed over it is typed.
  const [scanned, setScanned] = useState(begin);
  const [looking, setLooking] = useState(false);
  const held = useDebounced(text.trim(), 120);
  const found = useQuery(findQuery(held));
  const open = useOpen();
  const rows = held === text.trim() ? (found.data?.rows ?? []) : [];
  const go = (row: Row) => {
    const byScan = text === scanned || found.data?.by_label === true;
    if (!byScan || !taken(row)) open(row);
    close();
  };
  const one = scanned !== "" && text === scanned && rows.length === 1 ? rows[0] : undefined;
  const went = useRef(false);
  useEffect(() => {
    if (!one || went.current) return;
    went.current = true;
    go(one);
  });
  const answered = held !== "" && held === text.trim() && found.data;
  const said =
    found.error instanceof Refused ? (found.error.problem.fields?.[0]?.text ?? found.error.message) : null;
  return (
    <Dialog
      open
      onClose={close}
      aria-labelledby="find-title"
      fullWidth
      maxWidth="sm"
      sx={{ "& .MuiDialog-container": { alignItems: "flex-start" } }}
    >
      <form
        className="finder"
        onSubmit={(e) => {
          e.preventDefault();
          if (rows[0]) go(rows[0]);
        }}
      >
        <h2 id="find-title">Find</h2>
        <TextField
          name="find-all"
          label="A part, batch, lot, sheet, rig or person; or scan a label"
          value={text}
          onChange={(e) => setText(e.target.value)}
          autoFocus
          fullWidth
          error={Boolean(said)}
          helperText={said}
          slotProps={{ htmlInput: { autoComplete: "off", spellCheck: false } }}
        />
        {looking ? (
          <Camera
            take={(line) => {
              setText(line);
              setScanned(line);
              setLooking(false);
            }}
          />
        ) : (
          cameraReads() && (
            <Button variant="outlined" name="scan-camera" onClick={() => setLooking(true)}>
              Scan with the camera
            </Button>
          )
        )}
        <ul aria-label="Found" aria-busy={found.isFetching}>
          {rows.map((row) => (
            <li key={`${row.is} ${row.id}`}>
              <button type="button" onClick={() => go(row)}>
                <span className="slate small">{row.word}</span>
                <b>{row.label}</b>
                <span className="small slate">{row.facts}</span>
              </button>
            </li>
          ))}
        </ul>
        {answered && rows.length === 0 && (
          <p role="status">
            {found.data?.by_label
              ? "This label names nothing that is kept here. Nothing was opened."
              : "Nothing here goes by that."}
          </p>
        )}
      </form>
    </Dialog>
  );
}
