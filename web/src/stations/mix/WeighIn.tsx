// Weighing in by a scale that speaks: big running total, the level of the pour in hand, when to slow down and stop.
// What is steady and in is taken by itself, so that one person pours without touching the screen.
import { Button } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { api, ask, type Schemas } from "../../api/client";
import { useWrite } from "../../api/entry";
import type { StationProps } from "../../batch/station";
import { useAwake } from "../../hands/awake";
import { useStamp } from "../../hands/pedal";
import { useSay } from "../../hands/say";
import { sound } from "../../hands/sounds";
import { Check } from "../../ui/Check";
import { Level } from "../../ui/Level";
import { useWeighIn } from "./useWeighIn";
import { Act } from "../../ui/Act";

const AUTO = "level-keel-take-by-itself";

/** Sets a choice and keeps it in this browser. */
const keep = (key: string, set: (on: boolean) => void) => (on: boolean) => {
  set(on);
  localStorage.setItem(key, on ? "yes" : "no");
};

export function WeighIn({
  view,
  pot,
  scale,
  typeIt,
}: StationProps<"mix"> & { pot: Schemas["MixPot"]; scale: Schemas["ScaleView"]; typeIt: () => void }) {
  const said = useWeighIn(view.id, pot.id, scale.name);
  const weigh = said?.weigh;
  const { write, busy, refused } = useWrite(view.id);
  const [auto, setAuto] = useState(() => localStorage.getItem(AUTO) !== "no");
  // An id is sent once: the server has it, and says no to another content of it. A press for what comes next is never lost:
  // it waits its turn behind the answer that is under way.
  const sent = useRef("");
  const take = () => {
    if (!weigh?.component || weigh.load_g === null || weigh.load_g === undefined) return;
    if (busy && sent.current === weigh.entry) return;
    sent.current = weigh.entry;
    void write(
      "pour",
      {
        charge: pot.id,
        component: weigh.component,
        reading_g: weigh.load_g,
        tared: weigh.tared,
        lot: "",
        instrument: said?.instrument,
        by_scale: true,
      },
      weigh.entry,
    );
  };
  const combine = () => {
    if (busy && sent.current === `combine ${pot.id}`) return;
    sent.current = `combine ${pot.id}`;
    void write("combine", { charge: pot.id });
  };
  useEffect(() => {
    if (!auto || !weigh || busy) return;
    if (weigh.combines && sent.current !== `combine ${pot.id}`) combine();
    else if (weigh.accept && sent.current !== weigh.entry) take();
  });
  const slow = weigh?.pace === "slow";
  const pace = weigh?.begun ? weigh.pace : null;
  useEffect(() => {
    if (pace === "slow") sound("slow");
    else if (pace === "stop") sound("in");
    else if (pace === "over") sound("out");
  }, [pace]);
  useAwake(weigh?.begun ?? false);
  const weighable = weigh?.component && weigh.stable && !(weigh.notice && !weigh.tared);
  useStamp(() => {
    if (weigh?.combines) combine();
    else if (weighable) take();
  });
  useSay(() =>
    weigh
      ? [weigh.load.text, weigh.word, weigh.to_go && `${weigh.to_go.text} to go`].filter(Boolean).join(", ")
      : null,
  );
  return (
    <div style={{ display: "grid", gap: 8 }}>
      <span className="label">
        {weigh?.component ? `Pour ${weigh.name}, pot ${pot.no}` : `Pot ${pot.no}`} · {scale.name}
      </span>
      {!weigh ? (
        <p className="refusal" role="alert">
          The scale is silent: unplugged, off, or out of reach. What was taken stays. It goes on when it is
          heard again; a reading can be typed.
        </p>
      ) : (
        <>
          <div className={`weigh ${weigh.pace}`} aria-live="polite">
            <span className="live mono">{weigh.load.figure}</span> {weigh.load.unit}
            <b className="pace">{weigh.word}</b>
            {weigh.to_go && weigh.pace !== "stop" && (
              <span className={slow ? "word-tell" : ""}>
                <span className="mono">{weigh.to_go.text}</span> to go
              </span>
            )}
          </div>
          <div className="level-slot">{weigh.level && <Level level={weigh.level} size="big" />}</div>
          {weigh.notice && (
            <p className="refusal" role="alert">
              {weigh.notice}
            </p>
          )}
        </>
      )}
      <div className="actions">
        {/* That hardener runs in is true from its first drop: it waits for no steady figure, since the pot ages from then. */}
        <Act
          name="take-weight"
          word={weigh?.combines ? "Hardener is running in" : "Take this weight"}
          needs={!weigh?.combines && !weighable && "waits for the scale to rest"}
          press={() => (weigh?.combines ? combine() : take())}
        />
        {weigh?.jumped && (
          <Button
            variant="outlined"
            name="go-on"
            onClick={() =>
              void ask(api.POST("/api/v1/scales/go-on", { params: { query: { scale: scale.name } } }))
            }
          >
            Go on from here
          </Button>
        )}
        <Check name="auto" word="take it by itself" on={auto} set={keep(AUTO, setAuto)} />
        <button type="button" className="link" onClick={typeIt} name="type-it">
          Type a reading
        </button>
      </div>
      {refused && refused.code !== "id-taken" && <p className="refusal">{refused.detail}</p>}
    </div>
  );
}
