// Ready to use: stirred in its can, through the strainer, into cup, pot or tray. Nothing is weighed and nothing is added.
import { Picture } from "../Picture";

export function OutOfTheCan() {
  return (
    <Picture
      viewBox="0 0 530 214"
      style={{ width: "100%", maxHeight: 230 }}
      aria-label="Stirred in its can, poured through the strainer into the cup"
    >
      {/* The can, with its paddle. */}
      <rect
        x="30"
        y="62"
        width="104"
        height="124"
        rx="4"
        fill="var(--ground)"
        stroke="var(--ink)"
        strokeWidth="4"
      />
      <rect x="34" y="96" width="96" height="86" fill="var(--base)" />
      <path d="M78 20V150" stroke="var(--ink)" strokeWidth="5" />
      <path d="M64 138H92V162H64Z" fill="var(--ink)" />
      <text x="82" y="208" textAnchor="middle" fill="var(--ink)">
        stir it
      </text>
      <path d="M150 120H204M194 110L206 120L194 130" stroke="var(--ochre)" strokeWidth="3" fill="none" />
      {/* The strainer. */}
      <path d="M218 66H322L286 126H254Z" fill="none" stroke="var(--ink)" strokeWidth="3" />
      {[0, 1, 2, 3].map((i) => (
        <path
          key={i}
          d={`M${230 + i * 9} ${80 + i * 13}H${310 - i * 9}`}
          stroke="var(--slate)"
          strokeWidth="2"
          strokeDasharray="3 4"
        />
      ))}
      <path d="M270 128V168" stroke="var(--base)" strokeWidth="6" />
      <text x="270" y="208" textAnchor="middle" fill="var(--ink)">
        strain it
      </text>
      <path d="M336 120H390M380 110L392 120L380 130" stroke="var(--ochre)" strokeWidth="3" fill="none" />
      {/* The cup. */}
      <path d="M408 72H504L494 186H418Z" fill="var(--ground)" stroke="var(--ink)" strokeWidth="4" />
      <path d="M413 122H499L493 182H419Z" fill="var(--base)" />
      <text x="456" y="208" textAnchor="middle" fill="var(--ink)">
        pour it in
      </text>
    </Picture>
  );
}
