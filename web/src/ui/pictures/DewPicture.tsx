// Before anything is read: the surface must lie above the dew point by the sheet's margin, drawn as two heights on one stem.
import { Picture } from "../Picture";

export function DewPicture() {
  return (
    <Picture
      viewBox="0 0 530 214"
      style={{ width: "100%", maxHeight: 230 }}
      aria-label="The surface stands above the dew point by the margin of the sheet; below that line water stands on it"
    >
      <rect x="20" y="128" width="490" height="66" fill="var(--wash)" />
      {[0, 1, 2, 3, 4, 5, 6].map((i) => (
        <path
          key={i}
          d={`M${48 + i * 72} 146q-9 14 0 20q9 -6 0 -20Z`}
          fill="none"
          stroke="var(--slate)"
          strokeWidth="2"
        />
      ))}
      <path d="M20 128H510" stroke="var(--slate)" strokeWidth="2" strokeDasharray="7 5" />
      <text x="26" y="188" fill="var(--slate)">
        at and under the dew point water stands on it
      </text>
      <path d="M20 52H340" stroke="var(--ink)" strokeWidth="12" />
      <text x="26" y="36" fontWeight="700" fill="var(--ink)">
        the surface
      </text>
      <path
        d="M300 62V122M292 72L300 60L308 72M292 112L300 126L308 112"
        stroke="var(--ochre)"
        strokeWidth="3"
        fill="none"
      />
      <text x="316" y="100" fill="var(--ink)">
        the sheet’s margin, at least
      </text>
      {/* A probe held flat on the surface. */}
      <path d="M196 44V20q0 -8 8 -8h60" fill="none" stroke="var(--verdigris)" strokeWidth="5" />
      <path d="M182 45H210" stroke="var(--verdigris)" strokeWidth="7" />
    </Picture>
  );
}
