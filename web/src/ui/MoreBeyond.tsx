// Where a place holds more than is seen, its edge says so, and a tap shows it: no drag with gloves, no thin bar to catch.
import { createPortal } from "react-dom";
import { useBeyond, type Beyond } from "./beyond";

/** Of a place a tap goes on by this much, so that the last row seen is the first one then. */
const A_PAGE = 0.8;

function go({ place, way }: Beyond) {
  const smooth = matchMedia("(prefers-reduced-motion: no-preference)").matches;
  const step = way === "below" ? { top: place.clientHeight * A_PAGE } : { left: place.clientWidth * A_PAGE };
  place.scrollBy({ ...step, behavior: smooth ? "smooth" : "auto" });
}

export function MoreBeyond() {
  const found = useBeyond();
  if (found.length === 0) return null;
  return createPortal(
    // A keyboard scrolls by itself; this is for the finger.
    <div aria-hidden className="no-print">
      {found.map((b) => (
        <button
          key={`${b.way} ${b.left} ${b.top}`}
          type="button"
          tabIndex={-1}
          className={`more-beyond ${b.way}`}
          style={{ top: b.top, left: b.left, width: b.width, height: b.height }}
          onClick={() => go(b)}
        >
          <span>
            {b.way === "below" && "more"}
            <svg width="14" height="12" viewBox="0 0 14 12">
              <path
                d={b.way === "below" ? "M2 3l5 6 5-6" : "M4 1l6 5-6 5"}
                fill="none"
                stroke="currentColor"
                strokeWidth="2.5"
              />
            </svg>
          </span>
        </button>
      ))}
    </div>,
    document.body,
  );
}
