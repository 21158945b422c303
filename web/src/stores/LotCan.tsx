// A can in section: its liquid stands at what is left. A bar across it: nobody takes it.
import type { Schemas } from "../api/client";

export function LotCan({
  part,
  state,
  size = 40,
}: {
  part: number;
  state: Schemas["LotState"];
  size?: number;
}) {
  const high = 34 * Math.max(0, Math.min(1, part));
  const barred = state === "expired" || state === "quarantined";
  const worn = state === "soon" || state === "damaged";
  return (
    <svg width={size * 0.8} height={size} viewBox="0 0 32 40" aria-hidden>
      <rect x="4" y={37 - high} width="24" height={high} fill={barred ? "var(--slate)" : "var(--base)"} />
      <path d="M3 4v33h26V4" fill="none" stroke="var(--ink)" strokeWidth="2.5" />
      <path d="M3 4h26" stroke="var(--ink)" strokeWidth="2.5" strokeDasharray={worn ? "4 3" : undefined} />
      {barred && <path d="M1 36L31 6" stroke="var(--oxide)" strokeWidth="4" />}
    </svg>
  );
}
