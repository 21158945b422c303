// Last good set-ups with this product and rig, today's figures on the levels of each; one tap begins the try with them.
import { Button } from "@mui/material";
import type { Schemas } from "../../api/client";
import { Level } from "../../ui/Level";

export function Presets({
  presets,
  take,
}: {
  presets: Schemas["Preset"][];
  take: (good: Schemas["Preset"]) => void;
}) {
  if (presets.length === 0) return null;
  return (
    <div className="presets">
      <span className="label">Today beside the last good set-ups</span>
      {presets.map((p) => (
        <section key={p.number} aria-label={`Batch ${p.number}`}>
          <p className="preset-facts">
            <span className="mono slate">{String(p.number).padStart(4, "0")}</span>
            {p.pot && <b className="mono">{p.pot.text}</b>}
            {p.atomizing && <span className="mono">air {p.atomizing.text}</span>}
            {p.stream && <span className="mono">stream {p.stream.text}</span>}
            {p.temperature && <span className="mono slate">{p.temperature.text}</span>}
            {p.air_read && <span className="small slate">{p.air_read}</span>}
            {p.knobs && <span className="small">{p.knobs}</span>}
            {p.other_nozzle && <span className="small slate">another nozzle</span>}
            {p.other_temperature && <span className="small word-tell">at another temperature</span>}
            {Object.keys(p.typed ?? {}).length > 0 && (
              <Button
                variant="outlined"
                sx={{ marginLeft: "auto" }}
                name="take-over"
                aria-label={`Take over the set-up of batch ${p.number}`}
                onClick={() => take(p)}
              >
                Take over
              </Button>
            )}
          </p>
          {p.levels.map((l) => (
            <Level key={l.label} level={l} />
          ))}
        </section>
      ))}
    </div>
  );
}
