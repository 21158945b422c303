// A new sheet begins with the kind of product: each with what it looks like in work.
import type { Schemas } from "../api/client";

type Kind = Schemas["SheetKind"];

export function KindChoice({ kinds, choose }: { kinds: Kind[]; choose: (kind: Kind) => void }) {
  return (
    <div className="kinds" role="group" aria-label="What kind of product is it?">
      {kinds.map((k) => (
        <button key={k.value} type="button" name={`kind-${k.value}`} onClick={() => choose(k)}>
          <KindPicture kind={k.value} />
          <span>
            <b>{k.word}</b>
            <span className="slate">{k.what}</span>
          </span>
        </button>
      ))}
    </div>
  );
}

/** What stands on the bench: a cup of two, a can, two streams that meet, grain, thin coats. */
function KindPicture({ kind }: { kind: Kind["value"] }) {
  const line = { fill: "none", stroke: "var(--ink)", strokeWidth: 2.5 } as const;
  const cup = <path d="M14 8 L20 54 H52 L58 8" {...line} />;
  const fill = (from: number, to: number, colour: string) => {
    const x = (y: number) => 20 - (54 - y) * 0.13;
    return (
      <path
        d={`M${x(from)} ${from} L${x(to)} ${to} H${72 - x(to)} L${72 - x(from)} ${from} Z`}
        fill={colour}
      />
    );
  };
  const can = <path d="M18 14 V54 H54 V14 M18 14 A18 5 0 0 1 54 14 A18 5 0 0 1 18 14" {...line} />;
  return (
    <svg width="72" height="62" viewBox="0 0 72 62" aria-hidden>
      {(kind === "two_part" || kind === "waterborne") && (
        <>
          {fill(54, 28, "var(--base)")}
          {fill(28, 20, "var(--hardener)")}
          {cup}
          {kind === "waterborne" && (
            <path
              d="M36 2c5 7 6 9 6 12a6 6 0 0 1-12 0c0-3 1-5 6-12z"
              fill="var(--thinner)"
              {...{ stroke: "var(--ink)", strokeWidth: 2 }}
            />
          )}
        </>
      )}
      {kind === "gel_coat" && (
        <>
          {fill(54, 22, "var(--base)")}
          {fill(22, 20, "var(--hardener)")}
          {cup}
          <path d="M46 2 L40 18" stroke="var(--ink)" strokeWidth="2.5" />
        </>
      )}
      {kind === "twin_feed" && (
        <>
          <path d="M4 12 H26 L44 30" stroke="var(--base)" strokeWidth="7" fill="none" />
          <path d="M4 50 H26 L44 32" stroke="var(--hardener)" strokeWidth="5" fill="none" />
          <path d="M44 31 L68 14 M44 31 L70 31 M44 31 L68 48" {...line} />
        </>
      )}
      {kind === "ready_to_use" && (
        <>
          <rect x="19" y="26" width="34" height="27" fill="var(--base)" />
          {can}
        </>
      )}
      {kind === "textured" && (
        <>
          <rect x="19" y="26" width="34" height="27" fill="var(--base)" />
          {can}
          {[24, 32, 40, 47].map((x, i) => (
            <circle key={x} cx={x} cy={i % 2 ? 36 : 46} r="3" fill="var(--ink)" />
          ))}
        </>
      )}
      {kind === "release_film" && (
        <>
          <path d="M6 46 Q36 30 66 46" {...line} />
          <path d="M8 36 Q36 20 64 36" stroke="var(--base)" strokeWidth="4" fill="none" />
          <path d="M14 24 Q36 10 58 24" stroke="var(--thinner)" strokeWidth="3" fill="none" />
        </>
      )}
    </svg>
  );
}
