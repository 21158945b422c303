// The lists in the order of the hands. One item is in hand, the rest are rows; a heading that is done folds to a line.
import { useState } from "react";
import type { Schemas } from "../../api/client";
import type { StationProps } from "../../batch/station";
import { minutes, stopwatch } from "../../ui/clock";
import { InHand } from "./InHand";

export type Item = Schemas["ChecklistItemView"];
const DONE: Schemas["ItemState"][] = ["done", "watch"];
export const isDone = (item: Item) => DONE.includes(item.state) || Boolean(item.released);

export function ReadyLists({ view, elapsed }: StationProps<"ready"> & { elapsed: number }) {
  const groups = view.ready.groups;
  const [chosen, setChosen] = useState<string | null>(null);
  const [opened, setOpened] = useState<string[]>([]);
  const hand = chosen ?? view.ready.in_hand;
  return (
    <>
      {groups.map((g) => {
        const whole = g.done === g.items.length;
        const folded = whole && !opened.includes(g.group) && !g.items.some((i) => i.key === chosen);
        return (
          <section key={g.group} className="check-group">
            <h3>
              <button
                type="button"
                className="plain-button"
                aria-expanded={!folded}
                onClick={() =>
                  setOpened((o) => (o.includes(g.group) ? o.filter((x) => x !== g.group) : [...o, g.group]))
                }
              >
                {g.name}{" "}
                <span className="slate">
                  {g.done} of {g.items.length}
                </span>
              </button>
            </h3>
            {!folded &&
              g.items.map((item) =>
                item.key === hand ? (
                  <InHand
                    key={item.key}
                    view={view}
                    item={item}
                    elapsed={elapsed}
                    after={() => setChosen((now) => (now === item.key ? null : now))}
                  />
                ) : (
                  <button
                    key={item.key}
                    type="button"
                    className={`check ${item.state} ${item.released ? "released" : ""}`}
                    name={`item-${item.key}`}
                    onClick={() => setChosen(item.key)}
                  >
                    <Mark item={item} />
                    <span className="ellipsis">{item.text}</span>
                    <span className="small nowrap">{said(item, elapsed)}</span>
                  </button>
                ),
              )}
          </section>
        );
      })}
    </>
  );
}

/** What an item says now: a running clock counts on. */
export function said(item: Item, elapsed: number) {
  if (item.released) return "released";
  if (typeof item.ran_s === "number") return stopwatch(item.ran_s + elapsed);
  if (item.what.kind === "good_for" && typeof item.changes_s === "number" && isDone(item)) {
    const left = minutes(Math.max(0, item.changes_s - elapsed));
    return item.state === "watch" ? `${left.figure} ${left.unit} left` : item.line;
  }
  return item.line;
}

/** Its state by shape: a ring, a filled ring, a ring with a bar. */
export function Mark({ item }: { item: Item }) {
  const held = item.state === "held" && !item.released;
  return (
    <svg width="26" height="26" viewBox="0 0 26 26" aria-hidden className="mark">
      <circle
        cx="13"
        cy="13"
        r="9"
        fill={isDone(item) ? "var(--verdigris)" : "none"}
        stroke={held ? "var(--oxide)" : isDone(item) ? "var(--verdigris)" : "var(--ink)"}
        strokeWidth="2.5"
      />
      {isDone(item) && (
        <path d="M8.5 13.5l3.2 3.2 6-7" fill="none" stroke="var(--ground)" strokeWidth="2.5" />
      )}
      {held && <path d="M5 13h16" stroke="var(--oxide)" strokeWidth="3" />}
      {item.state === "running" && <path d="M13 7v6l4 3" fill="none" stroke="var(--ink)" strokeWidth="2.5" />}
    </svg>
  );
}
