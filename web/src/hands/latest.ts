// One thing on the page answers for all of it: the newest that is there.
import { useEffect, useRef } from "react";

type Answer<T> = { current: T };

export function latestOf<T>() {
  const all: Answer<T>[] = [];
  const heard = new Set<() => void>();
  const tell = () => heard.forEach((f) => f());
  return {
    /** Answers while it is on the page. */
    use: (answer: T) => {
      const mine = useRef(answer);
      useEffect(() => {
        mine.current = answer;
      });
      useEffect(() => {
        all.push(mine);
        tell();
        return () => {
          all.splice(all.indexOf(mine), 1);
          tell();
        };
      }, []);
    },
    now: (): T | undefined => all.at(-1)?.current,
    subscribe: (f: () => void) => {
      heard.add(f);
      return () => void heard.delete(f);
    },
  };
}
