// How a pot is proved: both parts are read on one scale as they go in, and each reading has its doubt.
import { Picture } from "../Picture";

export function OnTheScale({ single }: { single?: boolean }) {
  return (
    <Picture
      viewBox="0 0 530 200"
      style={{ width: "100%", maxHeight: 220 }}
      aria-label={
        single
          ? "One can: nothing is mixed, so no ratio is proved"
          : "One cup on one scale: read after the base, read again after the hardener"
      }
    >
      <path d="M116 30L132 156H244L260 30" fill="none" stroke="var(--ink)" strokeWidth="3" />
      <path d="M123 84H253L244 156H132Z" fill="var(--base)" />
      {!single && <path d="M119 56H257L253 84H123Z" fill="var(--hardener)" />}
      <path d="M80 164H296M92 164V184H284V164" fill="none" stroke="var(--ink)" strokeWidth="3" />
      <path d="M256 122H322" stroke="var(--ink)" strokeWidth="2" />
      <text x="328" y="126" fill="var(--ink)">
        {single ? "as it comes" : "read after the base"}
      </text>
      {!single && (
        <>
          <path d="M258 70H322" stroke="var(--ink)" strokeWidth="2" />
          <text x="328" y="74" fill="var(--ink)">
            and after the hardener
          </text>
        </>
      )}
      <text x="328" y="182" fill="var(--slate)">
        {single ? "no second part, no ratio" : "one scale for both"}
      </text>
    </Picture>
  );
}
