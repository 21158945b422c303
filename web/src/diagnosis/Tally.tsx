// What speaks for a cause to the right of a line, what speaks against it to the left, what nobody recorded hollow beneath.
const STEP = 12;
const MOST = 5;

export function Tally({ counts }: { counts: number[] }) {
  const [forIt = 0, against = 0, open = 0] = counts;
  const marks = (n: number) => Array.from({ length: Math.min(n, MOST) }, (_, i) => i);
  const middle = MOST * STEP + 4;
  return (
    <svg
      width={2 * middle}
      height="30"
      viewBox={`0 0 ${2 * middle} 30`}
      role="img"
      aria-label={`${forIt} for, ${against} against, ${open} not recorded`}
    >
      <path d={`M${middle} 0v30`} stroke="var(--ink)" strokeWidth="2" />
      {marks(forIt).map((i) => (
        <rect
          key={`f${i}`}
          x={middle + 4 + i * STEP}
          y="3"
          width="9"
          height="12"
          rx="2"
          fill="var(--verdigris)"
        />
      ))}
      {marks(against).map((i) => (
        <rect
          key={`a${i}`}
          x={middle - 13 - i * STEP}
          y="3"
          width="9"
          height="12"
          rx="2"
          fill="var(--oxide)"
        />
      ))}
      {marks(open).map((i) => (
        <circle
          key={`o${i}`}
          cx={middle + 9 + i * STEP}
          cy="24"
          r="3.5"
          fill="none"
          stroke="var(--slate)"
          strokeWidth="1.5"
        />
      ))}
    </svg>
  );
}
