// Pieces of the part, side by side: a level that fills, and one tap for each piece that is done.
import { Button } from "@mui/material";
import { useWrite } from "../../api/entry";
import type { StationProps } from "../../batch/station";

export function Pieces({ view }: StationProps<"spray">) {
  const { write, busy, refused } = useWrite(view.id);
  const sides = view.spray.pieces ?? [];
  if (sides.length === 0) return null;
  const done = (side: number, done_count: number) => void write("pieces_done", { side, done_count });
  return (
    <section className="pieces" aria-label="Pieces">
      {sides.map((s) => {
        const left = s.of_count - s.done_count;
        return (
          <div key={s.side} className="actions side-row">
            <svg
              width="120"
              height="26"
              viewBox="0 0 120 26"
              role="img"
              aria-label={`Side ${s.side}: ${s.text}`}
            >
              <rect
                x="2"
                y="2"
                width="116"
                height="22"
                rx="11"
                fill="var(--vial)"
                stroke="var(--ink)"
                strokeWidth="2"
              />
              <rect x="4" y="4" width={62 * s.share} height="18" rx="9" fill="var(--verdigris)" />
            </svg>
            <span className="nowrap">
              Side {s.side}: <b className="mono">{s.text}</b>
            </span>
            {left > 0 && (
              <>
                <Button
                  variant="contained"
                  name={`piece-${s.side}`}
                  disabled={busy}
                  className="nowrap"
                  onClick={() => done(s.side, 1)}
                >
                  One more
                </Button>
                {left > 1 && (
                  <Button
                    variant="text"
                    name={`pieces-all-${s.side}`}
                    disabled={busy}
                    onClick={() => done(s.side, left)}
                    className="nowrap"
                    sx={{ color: "text.primary" }}
                  >
                    All {left}
                  </Button>
                )}
              </>
            )}
          </div>
        );
      })}
      {refused && (
        <p className="refusal" role="alert">
          {refused.detail}
        </p>
      )}
    </section>
  );
}
