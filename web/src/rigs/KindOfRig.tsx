// What drives a rig, chosen by its picture.
export function KindOfRig(props: {
  kinds: (readonly [string, string])[];
  value: string;
  set: (kind: string) => void;
}) {
  return (
    <div className="rig-kinds" role="radiogroup" aria-label="Driven by">
      {props.kinds.map(([kind, word]) => (
        <button
          key={kind}
          type="button"
          role="radio"
          name={`kind-${kind}`}
          aria-checked={kind === props.value}
          className={kind === props.value ? "now" : ""}
          onClick={() => props.set(kind)}
        >
          <svg viewBox="0 0 72 56" aria-hidden>
            <Drawn kind={kind} />
          </svg>
          <span className="small">{word}</span>
        </button>
      ))}
    </div>
  );
}

function Drawn({ kind }: { kind: string }) {
  const pen = { fill: "none", stroke: "var(--ink)", strokeWidth: 2.5 } as const;
  const pot = (x: number, wide: number, fill: string) => (
    <g>
      <path d={`M${x + 2} 26H${x + wide - 2}V46H${x + 2}Z`} fill={fill} />
      <path
        d={`M${x} 14H${x + wide}V46q0 4 -4 4H${x + 4}q-4 0 -4 -4ZM${x - 4} 14H${x + wide + 4}`}
        {...pen}
      />
    </g>
  );
  switch (kind) {
    case "pot":
      return pot(20, 32, "var(--base)");
    case "twin_pots":
      return (
        <>
          {pot(8, 24, "var(--base)")}
          {pot(42, 24, "var(--hardener)")}
        </>
      );
    case "gun_cup":
      return (
        <>
          <path d="M24 6H48L45 24H27Z" fill="var(--base)" />
          <path d="M24 6H48L45 24H27ZM14 28H56L62 32V36H40L34 52H24L30 36H14Z" {...pen} />
        </>
      );
    case "gel_coat_machine":
      return (
        <>
          {pot(10, 26, "var(--base)")}
          <path d="M46 18H58V34H46ZM52 34V50M52 10V18" {...pen} />
          <circle cx="52" cy="26" r="3" fill="var(--hardener)" />
        </>
      );
    default:
      // A pump; airless with its small tip.
      return (
        <>
          <path d="M20 10H40V34H20ZM30 34V50M24 50H36M40 22H54" {...pen} />
          {kind === "airless" ? (
            <path d="M54 16L64 22L54 28Z" {...pen} />
          ) : (
            <circle cx="60" cy="22" r="6" {...pen} />
          )}
        </>
      );
  }
}
