// Time since a zone's last pass as a ring: it fills toward "may be coated again", then a second one toward "edge lost".
import type { ZoneWait } from "./wait";

const ROUND = 2 * Math.PI * 18;
const COLOUR = { wait: "var(--ochre)", go: "var(--verdigris)", lost: "var(--oxide)", none: "var(--slate)" };

export function Ring({ wait, complete }: { wait: ZoneWait | null; complete: boolean }) {
  return (
    <svg className="zone-ring" viewBox="0 0 48 48" aria-hidden>
      <circle cx="24" cy="24" r="18" fill="none" stroke="var(--ring)" strokeWidth="5" />
      {wait && (
        <circle
          cx="24"
          cy="24"
          r="18"
          fill="none"
          stroke={COLOUR[wait.tone]}
          strokeWidth="5"
          strokeDasharray={`${wait.share * ROUND} ${ROUND}`}
          transform="rotate(-90 24 24)"
        />
      )}
      {wait && wait.toLost !== null && wait.toLost > 0 && (
        <circle
          cx="24"
          cy="24"
          r="11"
          fill="none"
          stroke="var(--oxide)"
          strokeWidth="4"
          strokeDasharray={`${wait.toLost * 2 * Math.PI * 11} ${2 * Math.PI * 11}`}
          transform="rotate(-90 24 24)"
        />
      )}
      {complete && (
        <path
          d="M15 25 L22 32 L34 17"
          fill="none"
          stroke="var(--verdigris)"
          strokeWidth="5"
          strokeLinecap="round"
        />
      )}
    </svg>
  );
}
