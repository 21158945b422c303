// The plan of the pots on paper: what goes into each, by when, and what it was reckoned from.
import type { BatchView, Schemas } from "../../api/client";

export function PlanPaper({ view, plan }: { view: BatchView; plan: Schemas["PlanView"] }) {
  return (
    <section className="paper print-only" aria-hidden>
      <h1>Pots for {view.title}</h1>
      <p>{view.subtitle}</p>
      <p>
        To mix {plan.need.text}
        {plan.span && `, between ${plan.span} by the area`}; {plan.film}
        {plan.life && `; ${plan.life}`}. The maker’s own data sheet rules.
      </p>
      <h2>Each pot, {plan.pots[0]?.amount.text}</h2>
      <table className="rows">
        <thead>
          <tr>
            <th>Pour</th>
            <th>By volume</th>
            <th>By weight</th>
            <th>One tared vessel shows</th>
          </tr>
        </thead>
        <tbody>
          {plan.each_pot.map((p) => (
            <tr key={p.name}>
              <td>{p.name}</td>
              <td>{p.volume?.text ?? "–"}</td>
              <td>{p.mass.text}</td>
              <td>
                <b>{p.to_reading.text}</b>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <h2>When</h2>
      <table className="rows">
        <tbody>
          {plan.pots.map((p, i) => (
            <tr key={p.mix_by}>
              <td>Pot {i + 1}</td>
              <td>mix {p.mix_by}</td>
              <td>{p.amount.text}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <h2>How it was reckoned</h2>
      {plan.working?.lines.map((l) => (
        <p key={l.label}>
          {l.label}: {l.figures} = <b>{l.result}</b>
        </p>
      ))}
      {plan.stock.map((s) => (
        <p key={s}>{s}</p>
      ))}
    </section>
  );
}
