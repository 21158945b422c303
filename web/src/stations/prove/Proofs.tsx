// Proofs of the ratio before the newest.
import type { Schemas } from "../../api/client";
import { Level } from "../../ui/Level";

export function Proofs({ proofs }: { proofs: Schemas["Proof"][] }) {
  if (proofs.length < 2) return null;
  return (
    <>
      <span className="label">Proofs before, newest first</span>
      <div className="list">
        {proofs.slice(1).map((p, i) => (
          <div key={`${p.title}${i}`} className="proof">
            <span className="small slate">{p.title}</span>
            <Level level={{ ...p.level, label: "" }} size="list" />
          </div>
        ))}
      </div>
    </>
  );
}
