// The settings of each step of one coat: the fluid pressure stays, the air changes.
import type { Schemas } from "../../api/client";

export function CoatSteps({ steps }: { steps: Schemas["StepSetting"][] }) {
  if (steps.length === 0) return null;
  return (
    <table className="rows">
      <thead>
        <tr>
          <th>Step of the coat</th>
          <th className="num">Fluid</th>
          <th className="num">Air</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {steps.map((s) => (
          <tr key={s.step}>
            <td>{s.word}</td>
            <td className="num">{s.pot?.text ?? "–"}</td>
            <td className="num">{s.atomizing?.text ?? "–"}</td>
            <td className="word-tell">
              {s.other_fluid ? "keep the fluid as in the first step, change the air" : ""}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
