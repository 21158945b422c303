// Where a place holds more than is seen, its lower edge says so, and a tap shows it: no drag with gloves, no thin bar to catch.
import { createPortal } from "react-dom";
import { useMoreBelow } from "./below";

/** Of a place a tap goes on by this much, so that the last row seen is the first one then. */
const A_PAGE = 0.8;

export function MoreBelow() {
  const found = useMoreBelow();
  if (found.length === 0) return null;
  const smooth = matchMedia("(prefers-reduced-motion: no-preference)").matches;
  return createPortal(
    // A keyboard scrolls by itself; this is for the finger.
    <div aria-hidden className="no-print">
      {found.map(({ place, bottom, right }) => (
        <button
          key={`${place.className} ${right} ${bottom}`}
          type="button"
          tabIndex={-1}
          className="more-below"
          style={{ top: bottom - 48, left: right - 116 }}
          onClick={() =>
            place.scrollBy({ top: place.clientHeight * A_PAGE, behavior: smooth ? "smooth" : "auto" })
          }
        >
          <span>
            more
            <svg width="14" height="12" viewBox="0 0 14 12">
              <path d="M2 3l5 6 5-6" fill="none" stroke="currentColor" strokeWidth="2.5" />
            </svg>
          </span>
        </button>
      ))}
    </div>,
    document.body,
  );
}
