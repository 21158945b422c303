// The settings of each step of one coat, as the sheet states it and as it was set: the fluid pressure stays, the air changes.
import type { Schemas } from "../../api/client";

export function CoatSteps({ steps }: { steps: Schemas["StepSetting"][] }) {
  if (steps.length === 0) return null;
  const stated = steps.some((s) => s.sheet_air ?? s.sheet_says);
  return (
    <table className="rows">
      <thead>
        <tr>
          <th>Step of the coat</th>
          {stated && <th className="num">Air by the sheet</th>}
          <th className="num">Fluid</th>
          <th className="num">Air</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {steps.map((s) => (
          <tr key={s.step}>
            <td>
              {s.word} {s.sheet_says && <span className="small slate nowrap">{s.sheet_says}</span>}
            </td>
            {stated && <td className="num">{s.sheet_air?.text ?? "–"}</td>}
            <td className="num">{s.pot?.text ?? "–"}</td>
            <td className="num">{s.atomizing?.text ?? "–"}</td>
            <td className="word-tell">
              {s.other_fluid ? "keep the fluid as in the first step, change the air" : ""}
              {!s.other_fluid && s.other_air ? "another air than the sheet's" : ""}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
