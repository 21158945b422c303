// Readings out of a file the gauge wrote: read at once, shown, and taken by a press.
import { Button } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { useRef } from "react";
import { Refused, send, type Schemas } from "../api/client";
import { useWrite } from "../api/entry";

type Props = { book: string; gauge: string; division: string };

export function GaugeFile({ book, gauge, division }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const { write, busy, refused } = useWrite(book);
  const read = useMutation({
    mutationFn: (file: File) =>
      send<Schemas["FileRead"]>(
        "POST",
        `/api/v1/batches/${book}/gauge-file?${new URLSearchParams({ gauge, division, name: file.name }).toString()}`,
        file,
        "text/csv",
      ),
  });
  const wrong = read.error ?? null;
  return (
    <>
      <input
        ref={input}
        type="file"
        accept=".csv,text/csv"
        aria-label="A file of the gauge"
        className="unseen"
        onChange={(e) => {
          const file = e.target.files?.[0];
          if (file) read.mutate(file);
          e.target.value = "";
        }}
      />
      {read.data ? (
        <Button
          variant="outlined"
          name="take-file"
          disabled={busy}
          onClick={() => void write("gauge_read", read.data.payload).then((ok) => ok && read.reset())}
        >
          Take {read.data.count} readings of {read.data.payload.from_file}
        </Button>
      ) : (
        <Button
          variant="outlined"
          name="gauge-file"
          disabled={!gauge.trim() || !division.trim() || read.isPending}
          onClick={() => input.current?.click()}
        >
          {read.isPending ? "Reading …" : "From a file …"}
        </Button>
      )}
      {(wrong ?? refused) && (
        <span className="refusal" role="alert">
          {wrong instanceof Refused
            ? (wrong.problem.fields?.[0]?.text ?? wrong.problem.detail)
            : (wrong?.message ?? refused?.detail)}
        </span>
      )}
    </>
  );
}
