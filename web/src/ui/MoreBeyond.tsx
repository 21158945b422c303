// Where a place holds more than is seen, its edge says so, and a tap shows it: no drag with gloves, no thin bar to catch.
import { createPortal } from "react-dom";
import { useBeyond, type Beyond } from "./beyond";

/** Of a place a tap goes on by this much, so that the last row seen is the first one then. */
const A_PAGE = 0.8;
const BELOW = { width: 106, height: 48 };
const BESIDE = { width: 32, height: 48 };

const key = (b: Beyond) => `${b.way} ${b.place.className} ${b.right} ${b.bottom}`;

function go({ place, way }: Beyond) {
  const smooth = matchMedia("(prefers-reduced-motion: no-preference)").matches;
  const step = way === "below" ? { top: place.clientHeight * A_PAGE } : { left: place.clientWidth * A_PAGE };
  place.scrollBy({ ...step, behavior: smooth ? "smooth" : "auto" });
}

function where({ way, bottom, right, height }: Beyond) {
  if (way === "below") return { ...BELOW, top: bottom - BELOW.height, left: right - BELOW.width - 10 };
  const high = Math.min(BESIDE.height, height);
  return { width: BESIDE.width, height: high, top: bottom - (height + high) / 2, left: right - BESIDE.width };
}

export function MoreBeyond() {
  const found = useBeyond();
  if (found.length === 0) return null;
  return createPortal(
    // A keyboard scrolls by itself; this is for the finger.
    <div aria-hidden className="no-print">
      {found.map((b) => (
        <button
          key={key(b)}
          type="button"
          tabIndex={-1}
          className={`more-beyond ${b.way}`}
          style={where(b)}
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
