// Which places hold more below their edge than is seen.
import { useEffect, useState } from "react";

/** Every place that scrolls up and down by itself. One that is left out fails `access::the_head_leaves_the_room_to_the_work`. */
const SCROLLS =
  ".main, .station, .list, .hands-list, .two-ways, .tab-room, .sheet-two, .sheet-typed, .at-work, .deviations, .strip-all, " +
  ".passes-room, .board-room, .finder ul, .rack, .overlay, .MuiDialogContent-root, .MuiDialog-paper";
/** Less than this below the edge is no row. */
const A_ROW_PX = 20;
/** A place of less than this has no room for a mark. */
const ROOM_PX = 90;

export interface Below {
  place: Element;
  bottom: number;
  right: number;
}

function below(place: Element): Below | undefined {
  const hidden = place.scrollHeight - place.clientHeight - place.scrollTop;
  if (hidden < A_ROW_PX || !/auto|scroll/.test(getComputedStyle(place).overflowY)) return undefined;
  const box = place.getBoundingClientRect();
  const bottom = Math.min(box.bottom, innerHeight);
  if (bottom - box.top < ROOM_PX || box.width === 0) return undefined;
  return { place, bottom: Math.round(bottom), right: Math.round(Math.min(box.right, innerWidth)) };
}

/** The places with more below; while a dialog is open those of the dialog alone. */
function look(): Below[] {
  const over = [...document.querySelectorAll(".MuiDialog-root, .overlay")].at(-1);
  const places = [...(over?.parentElement ?? document).querySelectorAll(SCROLLS)];
  return places
    .filter((p) => !over || over.contains(p))
    .map(below)
    .filter((b) => b !== undefined);
}

const same = (a: Below[], b: Below[]) =>
  a.length === b.length &&
  a.every((x, i) => x.place === b[i]?.place && x.bottom === b[i].bottom && x.right === b[i].right);

export function useMoreBelow(): Below[] {
  const [found, setFound] = useState<Below[]>([]);
  useEffect(() => {
    let asked = 0;
    const again = () => {
      cancelAnimationFrame(asked);
      asked = requestAnimationFrame(() => {
        const now = look();
        setFound((was) => (same(was, now) ? was : now));
      });
    };
    const changes = new MutationObserver(again);
    changes.observe(document.body, {
      childList: true,
      subtree: true,
      attributes: true,
      attributeFilter: ["open", "class"],
    });
    document.addEventListener("scroll", again, { capture: true, passive: true });
    addEventListener("resize", again);
    document.addEventListener("transitionend", again);
    again();
    return () => {
      cancelAnimationFrame(asked);
      changes.disconnect();
      document.removeEventListener("scroll", again, { capture: true });
      removeEventListener("resize", again);
      document.removeEventListener("transitionend", again);
    };
  }, []);
  return found;
}
