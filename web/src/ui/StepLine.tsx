// A few steps on a line, as the stations of a batch stand on theirs.
import { Float, type FloatState } from "./Waterline";

export function StepLine({ steps }: { steps: { name: string; line: string; state: FloatState }[] }) {
  return (
    <ol className="step-line">
      {steps.map((s) => (
        <li key={s.name} aria-current={s.state === "in_work" ? "step" : undefined}>
          <svg width="52" height="44" viewBox="0 0 52 44" aria-hidden>
            <path d="M0 23H52" stroke="var(--ink)" strokeWidth="2" />
            <Float state={s.state} x={22} y={23} r={s.state === "in_work" ? 15 : 10} />
          </svg>
          <b>{s.name}</b>
          <span className="small slate">{s.line}</span>
        </li>
      ))}
    </ol>
  );
}
