// The passes so far, newest first.
import type { StationProps } from "../../batch/station";
import { shopTime } from "../../ui/clock";

export function Passes({ view, zone }: StationProps<"spray"> & { zone: string }) {
  return (
    <div className="passes-room">
      <table className="rows">
        <thead>
          <tr>
            <th>Pass</th>
            <th>Zone</th>
            <th className="num">Used</th>
            <th className="num">Wet after it</th>
          </tr>
        </thead>
        <tbody>
          {[...view.spray.passes].reverse().map((p, i) => (
            <tr key={p.entry} className={i === 0 ? "now" : ""}>
              <td className="nowrap">
                <b>{p.no}</b> · {shopTime(p.at, zone, view.as_of)} · pot {p.pot}
              </td>
              <td>
                {[p.zones.join(", ") || "whole part", p.step, p.way].filter(Boolean).join(", ")}
                {(p.named ?? []).map((n) => (
                  <span key={n} className="word-tell">
                    {" "}
                    · {n}
                  </span>
                ))}
              </td>
              <td className="num">{p.used?.text ?? "–"}</td>
              <td className="num">{p.wet?.text ?? "–"}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
