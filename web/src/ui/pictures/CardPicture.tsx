// The batch card as it will be: six lines, one for each station, with what stands on it so far.
import type { Schemas } from "../../api/client";
import { Picture } from "../Picture";

export function CardPicture({ stations }: { stations: Schemas["Station"][] }) {
  return (
    <Picture
      viewBox="0 0 530 176"
      style={{ width: "100%", maxHeight: 180, flex: "none" }}
      aria-label={`The card: ${stations.map((s) => `${s.name} ${s.line}`).join("; ")}`}
    >
      <path d="M30 6H484L506 28V170H30Z" fill="var(--ground)" stroke="var(--ink)" strokeWidth="2.5" />
      <path d="M484 6V28H506" fill="none" stroke="var(--ink)" strokeWidth="2" />
      {stations.map((s, i) => (
        <g key={s.name} transform={`translate(48 ${30 + i * 26})`}>
          {s.state === "done" ? (
            <path d="M0 -5l5 6 9 -13" fill="none" stroke="var(--verdigris)" strokeWidth="3.5" />
          ) : (
            <circle cx="7" cy="-5" r="5" fill="none" stroke="var(--slate)" strokeWidth="2" />
          )}
          <text x="28" fontWeight="700" fill="var(--ink)">
            {s.name}
          </text>
          <text x="112" fill={s.state === "done" ? "var(--ink)" : "var(--slate)"}>
            {s.line}
          </text>
          {i < 5 && <path d="M0 7H440" stroke="var(--rule)" strokeWidth="1" />}
        </g>
      ))}
    </Picture>
  );
}
