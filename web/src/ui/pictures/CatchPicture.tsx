// How a flow is caught: the gun at full trigger into a tared cup, its air off, by the watch.
import { Picture } from "../Picture";

export function CatchPicture() {
  return (
    <Picture
      viewBox="0 0 530 200"
      style={{ width: "100%", maxHeight: 220 }}
      aria-label="Gun at full trigger into a tared cup, air off, a watch beside it"
    >
      <path
        d="M60 20H150L178 30V46L150 56H118L104 112H78L92 56H60Z"
        fill="var(--ground)"
        stroke="var(--ink)"
        strokeWidth="2.5"
      />
      <path d="M178 38Q248 40 264 112" fill="none" stroke="var(--verdigris)" strokeWidth="5" />
      <path d="M222 84L232 176H304L314 84" fill="none" stroke="var(--ink)" strokeWidth="3" />
      <path d="M228 136H308L304 176H232Z" fill="var(--base)" />
      <path d="M204 184H332M214 184V192H322V184" stroke="var(--ink)" strokeWidth="3" fill="none" />
      <text x="186" y="30" fill="var(--slate)">
        full trigger, air off
      </text>
      <text x="338" y="186" fill="var(--slate)">
        tared first
      </text>
      <circle cx="430" cy="104" r="44" fill="var(--ground)" stroke="var(--ink)" strokeWidth="3" />
      <path d="M430 60V50M420 46H440" stroke="var(--ink)" strokeWidth="4" />
      <path d="M430 104V72" stroke="var(--ink)" strokeWidth="3" />
      <path d="M430 104L452 118" stroke="var(--verdigris)" strokeWidth="4" />
      <text x="430" y="168" textAnchor="middle" fill="var(--slate)">
        a minute is best
      </text>
    </Picture>
  );
}
