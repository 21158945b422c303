// A coat put on by brush or roller: loaded fully, laid on slowly, each stroke over the edge of the last.
import { Picture } from "../Picture";

export function ByHandPicture({ roller }: { roller: boolean }) {
  return (
    <Picture
      viewBox="0 0 530 190"
      style={{ width: "100%", maxHeight: 210 }}
      aria-label={`${roller ? "The roller" : "The brush"} laid on slowly, each stroke over the edge of the last`}
    >
      {[30, 78, 126].map((y, i) => (
        <g key={y}>
          <rect
            x="30"
            y={y}
            width={i < 2 ? 350 : 210}
            height="52"
            fill="var(--verdigris)"
            opacity={i < 2 ? 0.28 : 0.4}
          />
          {i < 2 && (
            <path
              d={`M372 ${y + 14}L384 ${y + 26}L372 ${y + 38}`}
              fill="none"
              stroke="var(--ochre)"
              strokeWidth="3"
            />
          )}
        </g>
      ))}
      {roller ? <Roller /> : <Brush />}
      <text x="404" y="60" fill="var(--slate)">
        slowly,
      </text>
      <text x="404" y="84" fill="var(--slate)">
        over the last edge
      </text>
    </Picture>
  );
}

const LINE = { fill: "var(--ground)", stroke: "var(--ink)", strokeWidth: 2.5 } as const;

function Brush() {
  return (
    <g>
      <path d="M240 126L262 130V174L240 178Z" fill="var(--verdigris)" />
      <path d="M262 128H284V176H262Z" {...LINE} />
      <path d="M284 140L350 146V158L284 164Z" {...LINE} />
    </g>
  );
}

function Roller() {
  return (
    <g>
      <rect x="240" y="122" width="34" height="60" rx="8" {...LINE} />
      <path d="M257 122V112H300V152H350" fill="none" stroke="var(--ink)" strokeWidth="3" />
      <path d="M350 145H394V159H350Z" {...LINE} />
    </g>
  );
}
