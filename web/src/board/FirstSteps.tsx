// The first steps of a shop that has begun no batch yet: what to put down, in the order one would.
import { Button } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useNavigate } from "@tanstack/react-router";
import type { Schemas } from "../api/client";
import { firstStepsQuery } from "../api/queries";

const TO: Record<Schemas["FirstThing"], () => { to: string; params?: { id: string } }> = {
  sheet: () => ({ to: "/sheets/$id", params: { id: "new" } }),
  batch: () => ({ to: "/begin" }),
  rig: () => ({ to: "/rigs" }),
  people: () => ({ to: "/people" }),
};

export function FirstSteps() {
  const steps = useQuery(firstStepsQuery).data;
  const navigate = useNavigate();
  if (!steps) return null;
  return (
    <ol className="first-steps" aria-label="First steps">
      {steps.map((s, i) => (
        <li key={s.thing} className={s.now ? "now" : ""}>
          <span className="no mono" aria-hidden>
            {s.done ? "✓" : i + 1}
          </span>
          <span className="words">
            <b>{s.text}</b>
            <span className="slate">{s.done ? "done" : s.why}</span>
          </span>
          {!s.done && (s.now || s.thing !== "batch") && (
            <Button
              variant={s.now ? "contained" : "outlined"}
              name={`first-${s.thing}`}
              onClick={() => void navigate(TO[s.thing]())}
            >
              {s.now ? "Do this now" : "Open"}
            </Button>
          )}
        </li>
      ))}
    </ol>
  );
}
