// Which scale shows the figure: its resolution decides what it can prove.
import { TextField } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { instrumentsQuery } from "../api/queries";

/** The chosen scale's id, and the field to choose it; the bench scale (1 g) or the finest is proposed. */
export function useScale(propose: "bench" | "finest") {
  const scales = useQuery(instrumentsQuery).data?.filter((i) => i.kind === "scale") ?? [];
  const [chosen, setChosen] = useState("");
  const bench = propose === "bench" ? scales.find((s) => s.resolution === 1) : undefined;
  const instrument = chosen || (bench ?? scales[0])?.id;
  const choice = (
    <TextField
      select
      label="Scale"
      name="scale"
      value={instrument ?? ""}
      onChange={(e) => setChosen(e.target.value)}
      sx={{ minWidth: 150, maxWidth: 190 }}
      slotProps={{ select: { native: true }, inputLabel: { shrink: true } }}
    >
      {scales.map((s) => (
        <option key={s.id} value={s.id}>
          {s.shown.text} · {s.name}
        </option>
      ))}
    </TextField>
  );
  return { instrument, choice };
}
