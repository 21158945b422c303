// What is to be traced: found by its name or code, or a scale and somebody's day chosen.
import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import { useState } from "react";
import { useDebounced } from "../api/entry";
import { findQuery, meQuery, scalesQuery, type TraceAsks } from "../api/queries";
import { Act } from "../ui/Act";
import { Choice } from "../ui/Choice";
import { Words } from "../ui/Words";
import { TextField } from "@mui/material";

/** What of the finder can be traced, and what it is asked by. */
const ASKS: Partial<Record<string, keyof TraceAsks>> = {
  lot: "lot",
  part: "part",
  rig: "rig",
  person: "person",
};

export function ChooseTrace() {
  const navigate = useNavigate();
  const me = useQuery(meQuery).data;
  const [text, setText] = useState("");
  const [scale, setScale] = useState("");
  const [day, setDay] = useState("");
  const found = useQuery(findQuery(useDebounced(text, 150))).data;
  const scales = useQuery(scalesQuery).data ?? [];
  const go = (search: TraceAsks) => void navigate({ to: "/trace", search });
  const rows = (found?.rows ?? []).filter((r) => ASKS[r.is]);
  return (
    <div className="trace-choose">
      <div>
        <Words
          name="trace-find"
          label="A lot, a part, a rig or a person"
          value={text}
          set={setText}
          most={80}
          hint="its code or name, or any part of it"
        />
        <ul className="trace-found">
          {rows.map((r) => (
            <li key={r.id}>
              <button
                type="button"
                name={`trace-${r.is}`}
                onClick={() => {
                  const asks = ASKS[r.is];
                  if (asks) go({ [asks]: r.id, ...(asks === "person" && day ? { day } : {}) });
                }}
              >
                <b>{r.label}</b> <span className="small slate">{r.word}</span>
                <span className="small slate">{r.facts}</span>
              </button>
            </li>
          ))}
        </ul>
        {text.trim() !== "" && found && rows.length === 0 && (
          <p className="slate">Nothing here goes by that.</p>
        )}
      </div>
      <div className="trace-side">
        <Choice
          name="trace-scale"
          label="A scale that was found off"
          value={scale}
          set={setScale}
          options={[["", " "], ...scales.map((s) => [s.instrument, s.name] as const)]}
        />
        <Act
          name="trace-scale-go"
          word="What it weighed"
          quiet
          needs={!scale && "choose a scale"}
          press={() => go({ scale })}
        />
        <TextField
          label="Day, for a person"
          name="trace-day"
          type="date"
          value={day}
          onChange={(e) => setDay(e.target.value)}
          slotProps={{ inputLabel: { shrink: true } }}
        />
        <Act
          name="trace-mine"
          word="My own day"
          quiet
          needs={!me && "nobody is signed in"}
          press={() => me && go({ person: me.id, ...(day ? { day } : {}) })}
        />
      </div>
    </div>
  );
}
