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

export type Way = "below" | "beside";

export interface Beyond {
  place: Element;
  way: Way;
  bottom: number;
  right: number;
  height: number;
}

function beyond(place: Element): Beyond[] {
  const how = getComputedStyle(place);
  const scrolls = (overflow: string) => /auto|scroll/.test(overflow);
  const box = place.getBoundingClientRect();
  const bottom = Math.round(Math.min(box.bottom, innerHeight));
  const right = Math.round(Math.min(box.right, innerWidth));
  const height = Math.round(bottom - Math.max(box.top, 0));
  if (box.width === 0 || height <= 0) return [];
  const under = place.scrollHeight - place.clientHeight - place.scrollTop;
  const after = place.scrollWidth - place.clientWidth - place.scrollLeft;
  const at = (way: Way): Beyond => ({ place, way, bottom, right, height });
  return [
    ...(under >= A_ROW_PX && height >= ROOM_PX && scrolls(how.overflowY) ? [at("below")] : []),
    ...(after >= A_ROW_PX && scrolls(how.overflowX) ? [at("beside")] : []),
  ];
}

/** The places with more beyond an edge; while a dialog is open those of the dialog alone. */
function look(): Beyond[] {
  const over = [...document.querySelectorAll(".MuiDialog-root, .overlay")].at(-1);
  const places = [...document.querySelectorAll(SCROLLS)];
  return places.filter((p) => !over || over.contains(p)).flatMap(beyond);
}

const same = (a: Beyond[], b: Beyond[]) =>
  a.length === b.length &&
  a.every((x, i) => {
    const y = b[i];
    const alike = y && x.place === y.place && x.way === y.way;
    return alike && x.bottom === y.bottom && x.right === y.right && x.height === y.height;
  });

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
