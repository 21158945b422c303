// The pours of a pot: planned, poured, and how each stands.
import type { Schemas } from "../../api/client";

export function PourTable({ lines }: { lines: Schemas["PourLine"][] }) {
  return (
    <table className="rows">
      <thead>
        <tr>
          <th>Pour</th>
          <th className="num">Plan</th>
          <th className="num">Poured</th>
          <th>State</th>
        </tr>
      </thead>
      <tbody>
        {lines.map((l) => (
          <tr key={l.component} className={l.in_hand ? "now" : ""}>
            <td>
              <b>{l.name}</b>
              {l.lot && (
                <span className="lot small slate ellipsis" title={l.lot}>
                  lot {l.lot}
                </span>
              )}
            </td>
            <td className="num">{l.plan.text}</td>
            <td className="num">{l.poured?.text ?? "–"}</td>
            <td>{l.word || "–"}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
