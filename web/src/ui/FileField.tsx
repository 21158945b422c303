// A file sent at once and kept by its hash; what it is, the server finds out for itself.
import { Button } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { useRef } from "react";
import { Refused, send, type Schemas } from "../api/client";

type Props = {
  label: string;
  accept: string;
  taken: Schemas["Attached"] | null;
  take: (file: Schemas["Attached"] | null) => void;
};

export function FileField({ label, accept, taken, take }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const keep = useMutation({
    mutationFn: (file: File) =>
      send<Schemas["Attached"]>(
        "PUT",
        `/api/v1/files?name=${encodeURIComponent(file.name)}`,
        file,
        file.type,
      ),
    onSuccess: take,
  });
  return (
    <div className="actions holds">
      <input
        ref={input}
        type="file"
        accept={accept}
        aria-label={label}
        className="unseen"
        onChange={(e) => {
          const file = e.target.files?.[0];
          if (file) keep.mutate(file);
          e.target.value = "";
        }}
      />
      <Button variant="outlined" disabled={keep.isPending} onClick={() => input.current?.click()}>
        {keep.isPending ? "Sending …" : taken ? `${label}: another` : `${label} …`}
      </Button>
      {taken && <span className="small">{taken.name}</span>}
      {keep.error && (
        <span className="refusal" role="alert">
          {keep.error instanceof Refused ? keep.error.problem.detail : keep.error.message}
        </span>
      )}
    </div>
  );
}
