// One sheet beside another: every field in which they differ.
import { TextField } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask } from "../api/client";
import { sheetsQuery } from "../api/queries";
import { Differences } from "./Versions";

export function Compare({ id }: { id: string }) {
  const [other, setOther] = useState("");
  const sheets = useQuery(sheetsQuery).data?.filter((s) => s.id !== id) ?? [];
  const changes = useQuery({
    queryKey: ["sheets", id, "against", other],
    queryFn: () =>
      ask(api.GET("/api/v1/sheets/{id}/changes", { params: { path: { id }, query: { against: other } } })),
    enabled: other !== "",
  }).data;
  if (sheets.length === 0) return null;
  const named = sheets.find((s) => s.id === other)?.name ?? "";
  return (
    <details className="group">
      <summary>
        <b>Compare</b>
        <span className="slate small">with another sheet, field by field</span>
      </summary>
      <TextField
        select
        name="compare-with"
        label="With"
        value={other}
        onChange={(e) => setOther(e.target.value)}
        slotProps={{ inputLabel: { shrink: true }, select: { native: true } }}
      >
        <option value=""> </option>
        {sheets.map((s) => (
          <option key={s.id} value={s.id}>
            {s.name}
          </option>
        ))}
      </TextField>
      {changes && <Differences changes={changes} before={named} after="this sheet" />}
    </details>
  );
}
