// The one place that interpolates: value + rate × (time since the answer). The browser's own clock is only
// used to count on, never to tell the time.
import { useEffect, useState } from "react";
import { steady } from "./steady";

/** Seconds of shop time since an answer was received, ticking. */
export function useElapsed(received: number, rate: number): number {
  const [now, setNow] = useState(() => steady());
  useEffect(() => {
    const timer = setInterval(() => setNow(steady()), 500);
    return () => clearInterval(timer);
  }, []);
  return Math.max(0, (now - received) / 1000) * rate;
}

/** `inSeconds`: a life of minutes counts every one of them. */
export function minutes(seconds: number, inSeconds = false): { figure: string; unit: string } {
  const sign = seconds < 0 ? "−" : "";
  const s = Math.abs(Math.round(seconds));
  if (inSeconds && s >= 120 && s < 6000)
    return { figure: `${sign}${Math.floor(s / 60)}:${String(s % 60).padStart(2, "0")}`, unit: "min" };
  if (s < 120) return { figure: `${sign}${s}`, unit: "s" };
  if (s < 6000) return { figure: `${sign}${Math.floor(s / 60)}`, unit: "min" };
  return {
    figure: `${sign}${Math.floor(s / 3600)} h ${String(Math.floor((s % 3600) / 60)).padStart(2, "0")}`,
    unit: "",
  };
}

const two = (n: number) => String(n).padStart(2, "0");

/** A watch that runs up: 0:07, 12:30, 1 h 01. */
export function stopwatch(seconds: number) {
  const s = Math.max(0, Math.floor(seconds));
  const min = Math.floor(s / 60);
  return min < 60 ? `${min}:${two(s % 60)}` : `${Math.floor(min / 60)} h ${two(min % 60)}`;
}

/** Shop time, with the date where it is not the day of `as_of`. */
export function shopTime(at: string, zone: string, asOf?: string) {
  const { time, day } = hands(zone);
  const date = new Date(at);
  return asOf && day.format(date) !== day.format(new Date(asOf))
    ? `${day.format(date)} ${time.format(date)}`
    : time.format(date);
}

const KEPT = new Map<string, { time: Intl.DateTimeFormat; day: Intl.DateTimeFormat }>();

/** What writes a time and a day of a zone. Each takes the browser a while to make, and a screen says dozens of times. */
function hands(zone: string) {
  const made = KEPT.get(zone) ?? {
    time: new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit", timeZone: zone }),
    day: new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", timeZone: zone }),
  };
  KEPT.set(zone, made);
  return made;
}
