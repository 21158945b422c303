// A part before its first pass: gun square to it at its distance, the comb ready for the wet film.
import { Picture } from "../Picture";

export function BeforeThePass() {
  return (
    <Picture
      viewBox="0 0 530 170"
      style={{ width: "100%", maxHeight: 190 }}
      aria-label="The gun square to the part, moved along it at one distance, each pass over half of the last"
    >
      <path d="M440 14V156" stroke="var(--ink)" strokeWidth="8" />
      {[30, 62, 94].map((y) => (
        <path key={y} d={`M432 ${y}V${y + 40}`} stroke="var(--verdigris)" strokeWidth="5" opacity="0.5" />
      ))}
      <path
        d="M120 62H198L222 72V88L198 98H176L164 150H138L152 98H120Z"
        fill="var(--ground)"
        stroke="var(--ink)"
        strokeWidth="2.5"
      />
      <path d="M224 80L428 40V120Z" fill="var(--verdigris)" opacity="0.25" />
      <path d="M226 144H428M226 136V152M428 136V152" stroke="var(--slate)" strokeWidth="2" />
      <text x="327" y="166" textAnchor="middle" fill="var(--slate)">
        one distance, square to it
      </text>
      <path
        d="M84 116V44M72 60L84 42L96 60M72 100L84 118L96 100"
        fill="none"
        stroke="var(--ochre)"
        strokeWidth="3"
      />
      <text x="20" y="30" fill="var(--ink)">
        along it, before the trigger
      </text>
    </Picture>
  );
}
