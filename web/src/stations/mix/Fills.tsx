// What went to the gun so far, newest first.
import type { Schemas } from "../../api/client";
import { shopTime } from "../../ui/clock";

type Props = { pot: Schemas["MixPot"]; zone: string; asOf: string };

export function Fills({ pot, zone, asOf }: Props) {
  return (
    <>
      <span className="label">Gone to the gun</span>
      {pot.fills.length === 0 && <p className="slate">No fill is logged yet.</p>}
      <table className="rows">
        <tbody>
          {pot.fills.map((f) => (
            <tr key={f.at + f.amount.text}>
              <td className="mono nowrap">{shopTime(f.at, zone, asOf)}</td>
              <td>{f.into}</td>
              <td className="num">
                <b>{f.amount.text}</b>
              </td>
              <td className="num">{f.dose?.text ?? ""}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
