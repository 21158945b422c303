// The tries so far: typed, seen, reckoned, and what the transmitter read.
import type { Schemas } from "../../api/client";

export function SetUpTable({ setUps, ladder }: { setUps: Schemas["SetUpRow"][]; ladder: boolean }) {
  if (setUps.length === 0) return null;
  const twin = setUps.some((t) => t.b);
  const gauged = setUps.some((t) => t.gauge);
  const pressed = setUps.some((t) => t.pot);
  const streams = !ladder && setUps.some((t) => t.stream ?? t.expected);
  const knobs = setUps.some((t) => t.knobs);
  const supplied = setUps.some((t) => t.supply);
  const capped = setUps.some((t) => t.cap);
  return (
    <div className="rows-room">
      <table className="rows">
        <thead>
          <tr>
            <th>Try</th>
            {supplied && <th className="num">Supply</th>}
            {pressed && <th className="num">{ladder ? "Pump" : twin ? "Pot A" : "Pot"}</th>}
            {twin && <th className="num">Pot B</th>}
            {gauged && <th className="num">Gauge</th>}
            <th className={streams ? "num" : ""}>{streams ? "Stream" : "Pattern"}</th>
            {streams && <th className="num">Reckoned</th>}
            <th className="num">Air</th>
            {capped && <th className="num">At the cap</th>}
            {knobs && <th>Knobs</th>}
            <th>{streams ? "Verdict" : ""}</th>
          </tr>
        </thead>
        <tbody>
          {setUps.map((t, i) => (
            <tr key={t.entry} className={i === setUps.length - 1 ? "now" : ""}>
              <td>{i + 1}</td>
              {supplied && <td className="num">{t.supply?.text ?? "–"}</td>}
              {pressed && <td className="num">{t.pot?.text ?? "–"}</td>}
              {twin && <td className="num">{t.b?.text ?? "–"}</td>}
              {gauged && <td className="num slate">{t.gauge?.text ?? "–"}</td>}
              <td className={streams ? "num" : ""}>
                {t.stream?.text ?? t.pattern ?? "–"}
                {t.flowed && <span className="small slate"> {t.flowed}</span>}
              </td>
              {streams && <td className="num slate">{t.expected?.text ?? "–"}</td>}
              <td className="num">
                {t.atomizing?.text ?? "–"}
                {t.air_read && <span className="small slate"> {t.air_read}</span>}
              </td>
              {capped && <td className="num">{t.cap?.text ?? "–"}</td>}
              {knobs && <td className="small">{t.knobs || "–"}</td>}
              <td>
                {t.word || (streams ? "–" : "")}
                {t.step ? ` · ${t.step}` : ""}
                {t.photo && (
                  <>
                    {" · "}
                    <a href={`/api/v1/files/${t.photo}`}>picture</a>
                  </>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
