// The watch of a catch: a stopwatch, or fifteen seconds counted down with a sound at their end.
import { Button } from "@mui/material";
import { useEffect, useState } from "react";
import { useKeys } from "../../app/keys";
import { useAwake } from "../../hands/awake";
import { useStamp } from "../../hands/pedal";
import { sound } from "../../hands/sounds";
import { stopwatch } from "../../ui/clock";
import { useStopwatch } from "../../ui/stopwatch";

/** Fifteen seconds give a flow that is read easily: times four is a minute. */
const COUNT_S = 15;

export function useCatchWatch(take: (seconds: string) => void) {
  const watch = useStopwatch();
  const [counting, setCounting] = useState(false);
  const left = Math.max(0, COUNT_S - watch.seconds);
  const toggle = () => {
    const ran = watch.toggle();
    if (ran !== null) {
      setCounting(false);
      take(`${ran.toFixed(1)} s`);
    }
  };
  useKeys((key) => (key === "s" ? (toggle(), true) : false));
  useStamp(toggle);
  useAwake(watch.running);
  useEffect(() => {
    if (!counting || !watch.running || left > 0) return;
    setCounting(false);
    watch.toggle();
    sound("in");
    take(`${COUNT_S} s`);
  });
  const count = () => {
    setCounting(true);
    if (!watch.running) watch.toggle();
    sound("slow");
  };
  const said = watch.running ? (counting ? `${Math.ceil(left)} s left` : stopwatch(watch.seconds)) : null;
  const buttons = (
    <>
      <Button type="button" variant="outlined" name="stopwatch" onClick={toggle}>
        {said ? `Stop · ${said}` : "Start the watch · s"}
      </Button>
      {!watch.running && (
        <Button type="button" variant="outlined" name="count-down" onClick={count}>
          Count {COUNT_S} s
        </Button>
      )}
    </>
  );
  return { running: watch.running, said, buttons };
}
