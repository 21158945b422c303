// The watch of a catch: a stopwatch, or fifteen seconds counted down with a sound at their end.
import { Button } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { useKeys } from "../../app/keys";
import { useAwake } from "../../hands/awake";
import { useStamp } from "../../hands/pedal";
import { sound } from "../../hands/sounds";
import { stopwatch } from "../../ui/clock";
import { steady } from "../../ui/steady";

/** Fifteen seconds give a flow that is read easily: times four is a minute. */
const COUNT_S = 15;

type Run = { since: number; counts: boolean };

export function useCatchWatch(take: (seconds: string) => void) {
  const [run, setRun] = useState<Run | null>(null);
  const [now, setNow] = useState(0);
  const taken = useRef(take);
  useEffect(() => {
    taken.current = take;
  });
  useEffect(() => {
    if (!run) return;
    const timer = setInterval(() => {
      const at = steady();
      setNow(at);
      if (!run.counts || at - run.since < COUNT_S * 1000) return;
      setRun(null);
      sound("in");
      taken.current(`${COUNT_S} s`);
    }, 100);
    return () => clearInterval(timer);
  }, [run]);
  const begin = (counts: boolean) => {
    const since = steady();
    setNow(since);
    setRun({ since, counts });
    if (counts) sound("slow");
  };
  const toggle = () => {
    if (!run) return begin(false);
    setRun(null);
    take(`${((steady() - run.since) / 1000).toFixed(1)} s`);
  };
  useKeys((key) => (key === "s" ? (toggle(), true) : false));
  useStamp(toggle);
  useAwake(run !== null);
  const ran = run ? Math.max(0, now - run.since) / 1000 : 0;
  const said = run ? (run.counts ? `${Math.ceil(Math.max(0, COUNT_S - ran))} s left` : stopwatch(ran)) : null;
  const buttons = (
    <>
      <Button type="button" variant="outlined" name="stopwatch" onClick={toggle}>
        {said ? `Stop · ${said}` : "Watch · s"}
      </Button>
      {!run && (
        <Button type="button" variant="outlined" name="count-down" onClick={() => begin(true)}>
          Count {COUNT_S} s
        </Button>
      )}
    </>
  );
  return { said, buttons };
}
