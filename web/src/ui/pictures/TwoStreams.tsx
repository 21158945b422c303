// Two streams that meet at the gun: nothing is weighed together, the ratio is proved by a catch of each.
import { Picture } from "../Picture";

export function TwoStreams() {
  return (
    <Picture
      viewBox="0 0 530 200"
      style={{ width: "100%", maxHeight: 220 }}
      aria-label="Two supplies, each by its own hose to the gun, where they meet"
    >
      {[
        ["A", 24, "var(--base)"],
        ["B", 124, "var(--hardener)"],
      ].map(([name, y, fill]) => (
        <g key={name} transform={`translate(0 ${y})`}>
          <path d="M30 0V50q0 8 8 8H92q8 0 8 -8V0M24 0H106" fill="none" stroke="var(--ink)" strokeWidth="3" />
          <path d="M32 18H98V50q0 6 -6 6H38q-6 0 -6 -6Z" fill={String(fill)} />
          <text x="65" y="42" textAnchor="middle" fontWeight="700" fill="var(--ground)">
            {name}
          </text>
        </g>
      ))}
      <path d="M100 62H190Q250 62 262 92H300" fill="none" stroke="var(--base)" strokeWidth="6" />
      <path d="M100 162H190Q250 162 262 106H300" fill="none" stroke="var(--hardener)" strokeWidth="6" />
      <path
        d="M300 80H378L402 90V106L378 116H356L344 172H318L332 116H300Z"
        fill="var(--ground)"
        stroke="var(--ink)"
        strokeWidth="2.5"
      />
      <path d="M404 98L508 60V136Z" fill="var(--verdigris)" opacity="0.4" />
      <text x="392" y="166" fill="var(--slate)">
        they meet here
      </text>
    </Picture>
  );
}
