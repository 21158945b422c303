// The pace of the gun by ear: a click at the end of each stroke, and the speed that stamped strokes had.
import { Button } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { api, ask } from "../../api/client";
import { filledOf, useCompute } from "../../api/compute";
import type { StationProps } from "../../batch/station";
import { clicks } from "../../hands/clicks";
import { Act } from "../../ui/Act";
import { Asked } from "../../ui/Asked";

export function Pace({ view }: StationProps<"spray">) {
  const wanted = view.spray.board?.pace;
  const [form, setForm] = useState({ width_mm: "", gun_speed_m_s: wanted?.text ?? "" });
  const [taps, setTaps] = useState<number[]>([]);
  const [on, setOn] = useState(false);
  const stop = useRef<(() => void) | null>(null);
  const first = taps[0];
  const last = taps[taps.length - 1];
  const strokes =
    taps.length > 2 && first !== undefined && last !== undefined
      ? { stroke_count: taps.length - 1, stroked_watch_s: (last - first) / 1000 }
      : {};
  const filled = filledOf(form);
  const { data, refusals } = useCompute(
    "pace",
    filled.width_mm ? { width_mm: "", ...filled, ...strokes } : null,
    (body) => ask(api.POST("/api/v1/compute/film/pace", { body })),
  );
  const click_s = data?.click_s ?? null;
  useEffect(() => {
    if (!on || click_s === null) return;
    stop.current = clicks(click_s);
    return () => stop.current?.();
  }, [on, click_s]);
  return (
    <div className="do">
      <span className="label">A click at the end of each stroke</span>
      <div className="fields">
        <Asked form={form} set={setForm} name="width_mm" label="Over a stretch of" refusals={refusals} />
        <Asked
          form={form}
          set={setForm}
          name="gun_speed_m_s"
          label="Gun speed"
          hint={wanted?.line}
          refusals={refusals}
        />
      </div>
      <div className="actions">
        <Act
          name="click"
          word={on ? "Silence" : "Click"}
          quiet={!on}
          needs={click_s === null && "say the stretch and the speed"}
          press={() => setOn(!on)}
        />
        {data?.click && (
          <span>
            <b className="live mono">{data.click}</b> a stroke
          </span>
        )}
      </div>
      <span className="label">Or tap at the end of each stroke: how fast was it?</span>
      <div className="actions">
        <Button variant="outlined" name="stroke" onClick={() => setTaps([...taps, performance.now()])}>
          {taps.length === 0 ? "First end" : `Stroke ${taps.length}`}
        </Button>
        {taps.length > 0 && (
          <Button variant="text" name="strokes-anew" onClick={() => setTaps([])}>
            Anew
          </Button>
        )}
        {data?.measured && (
          <span>
            <b className="mono">{data.measured.text}</b> <span className="small slate">{data.between}</span>
          </span>
        )}
      </div>
    </div>
  );
}
