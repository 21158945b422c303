// The zones of the part, each with its film so far.
import type { Schemas } from "../../api/client";

export function PartStrip({
  zones,
  chosen,
  onChoose,
}: {
  zones: Schemas["ZoneFilm"][];
  chosen: string | null;
  onChoose: (id: string | null) => void;
}) {
  return (
    <div>
      <span className="label">Where on the part</span>
      <div className="part-strip">
        {zones.map((z) => (
          <button
            key={z.name}
            type="button"
            aria-pressed={(z.id ?? null) === chosen}
            onClick={() => onChoose(z.id ?? null)}
          >
            <b className="mono">{z.wet?.text ?? "–"}</b>
            <br />
            <span className="small">
              {z.name}
              {z.word && `, ${z.word}`}
              {z.readings && ` · ${z.readings}`}
            </span>
          </button>
        ))}
      </div>
    </div>
  );
}
