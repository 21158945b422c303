// What a coat is: an area, a wet film on it, and the paint both take.
import type { Schemas } from "../../api/client";
import { Picture } from "../Picture";

export function SlabPicture({
  film,
  need,
}: {
  film?: string | undefined;
  need?: Schemas["Shown"] | undefined;
}) {
  return (
    <Picture
      viewBox="0 0 530 150"
      style={{ width: "100%", maxHeight: 170 }}
      aria-label={`The part with its film${film ? ` of ${film}` : ""}${need ? `: ${need.text} of paint` : ""}`}
    >
      <path d="M40 104L110 44H370L300 104Z" fill="var(--ground)" stroke="var(--ink)" strokeWidth="2.5" />
      <path d="M40 104L110 44H370L300 104Z" fill="var(--verdigris)" opacity="0.35" />
      <path d="M40 104V120H300V104M300 120L370 60V44" fill="none" stroke="var(--ink)" strokeWidth="2.5" />
      <path d="M40 104V112H300V104ZM300 104V112L370 52V44Z" fill="var(--verdigris)" />
      <path d="M386 44V60M380 44H392M380 60H392" stroke="var(--ink)" strokeWidth="2" />
      <text x="400" y="58" fill="var(--ink)">
        {film ? film.split(/[,;]/)[0] : "the wet film"}
      </text>
      <text x="170" y="80" textAnchor="middle" fill="var(--ink)">
        the area
      </text>
      <text x="170" y="142" textAnchor="middle" fill="var(--slate)">
        {need
          ? `${need.text} of finished paint, with what goes past it`
          : "area × film, and what goes past it"}
      </text>
    </Picture>
  );
}
