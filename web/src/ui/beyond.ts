// Which places hold more beyond their lower or right edge than is seen.
import { useEffect, useState } from "react";

/** Every place that scrolls by itself. One that is left out fails `access::the_fullest_shop_fits_every_size`. */
const SCROLLS =
  ".main, .station, .list, .hands-list, .two-ways, .tab-room, .sheet-two, .sheet-typed, .at-work, .deviations, .strip-all, " +
  ".passes-room, .board-room, .rig-line, .do, .see, .finder ul, .rack, .overlay, .station-tabs, .top nav, .MuiDialogContent-root, .MuiDialog-paper";
/** Less than this beyond the edge is no row. */
const A_ROW_PX = 20;
/** A place lower than this has no room for a mark at its foot. */
const ROOM_PX = 90;
/** How large the marks are. */
const BELOW = { width: 106, height: 48 };
const BESIDE = { width: 32, height: 48 };

export type Way = "below" | "beside";

export interface Beyond {
  place: Element;
  way: Way;
  /** Where its mark lies, in dots of the window. */
  top: number;
  left: number;
  width: number;
  height: number;
}

function beyond(place: Element): Beyond[] {
  const how = getComputedStyle(place);
  const scrolls = (overflow: string) => /auto|scroll/.test(overflow);
  const box = place.getBoundingClientRect();
  const bottom = Math.round(Math.min(box.bottom, innerHeight));
  const right = Math.round(Math.min(box.right, innerWidth));
  const seen = Math.round(bottom - Math.max(box.top, 0));
  if (box.width === 0 || seen <= 0) return [];
  const under = place.scrollHeight - place.clientHeight - place.scrollTop;
  const after = place.scrollWidth - place.clientWidth - place.scrollLeft;
  const hasBelow = under >= A_ROW_PX && seen >= ROOM_PX && scrolls(how.overflowY);
  const below = { ...BELOW, top: bottom - BELOW.height, left: right - BELOW.width - 10 };
  // In the middle of the edge; in a low place over the mark at its foot.
  const high = Math.min(BESIDE.height, seen);
  const foot = Math.max((seen - high) / 2, hasBelow ? BELOW.height : 0);
  const beside = {
    width: BESIDE.width,
    height: high,
    top: bottom - foot - high,
    left: right - BESIDE.width,
  };
  return [
    ...(hasBelow ? [{ place, way: "below" as const, ...below }] : []),
    ...(after >= A_ROW_PX && scrolls(how.overflowX) ? [{ place, way: "beside" as const, ...beside }] : []),
  ];
}

const over = (a: Beyond, b: Beyond) =>
  a.left < b.left + b.width &&
  b.left < a.left + a.width &&
  a.top < b.top + b.height &&
  b.top < a.top + a.height;

/**
 * The places with more beyond an edge; while a dialog is open those of the dialog alone. No two marks lie over each other: what is
 * inside comes before what it stands in, and what is below before what is beside; the other is moved above it where it has the room,
 * else it shows once the first is at its end.
 */
function look(): Beyond[] {
  const above = [...document.querySelectorAll(".MuiDialog-root, .overlay")].at(-1);
  const places = [...document.querySelectorAll(SCROLLS)].filter((p) => !above || above.contains(p));
  const found = places.reverse().flatMap(beyond);
  const belowFirst = [...found.filter((b) => b.way === "below"), ...found.filter((b) => b.way === "beside")];
  return belowFirst.reduce<Beyond[]>((kept, b) => {
    const at = beside(b, kept);
    return kept.some((k) => over(k, at)) ? kept : [...kept, at];
  }, []);
}

/** A mark beside that would lie over the one at the foot of what it stands in, moved above that where its place is seen so high. */
function beside(mark: Beyond, kept: Beyond[]): Beyond {
  const under = mark.way === "beside" && kept.find((k) => k.way === "below" && over(k, mark));
  if (!under) return mark;
  const top = under.top - mark.height;
  return top >= Math.max(mark.place.getBoundingClientRect().top, 0) ? { ...mark, top } : mark;
}

const FIELDS = ["place", "way", "top", "left", "width", "height"] as const;
const same = (a: Beyond[], b: Beyond[]) =>
  a.length === b.length && a.every((x, i) => FIELDS.every((f) => x[f] === b[i]?.[f]));

export function useBeyond(): Beyond[] {
  const [found, setFound] = useState<Beyond[]>([]);
  useEffect(() => {
    let asked = 0;
    const again = () => {
      if (asked) return;
      asked = requestAnimationFrame(() => {
        asked = 0;
        const now = look();
        setFound((was) => (same(was, now) ? was : now));
      });
    };
    const changes = new MutationObserver(again);
    changes.observe(document.body, {
      subtree: true,
      childList: true,
      characterData: true,
      attributeFilter: ["open", "class", "style"],
    });
    // A font or a picture that arrives moves places without a change of the page.
    void document.fonts.ready.then(again);
    const ended = ["scroll", "transitionend", "load"] as const;
    for (const what of ended) document.addEventListener(what, again, { capture: true, passive: true });
    addEventListener("resize", again);
    again();
    return () => {
      cancelAnimationFrame(asked);
      changes.disconnect();
      for (const what of ended) document.removeEventListener(what, again, { capture: true });
      removeEventListener("resize", again);
    };
  }, []);
  return found;
}
