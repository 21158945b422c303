// What accepts a coat, on its card: each by its word, spots and readings by their levels, stages beside the sample.
import type { Schemas } from "../api/client";
import { Level } from "../ui/Level";
import { SpotsPicture } from "./SpotsPicture";
import "./acceptance.css";

export function Accepted({ accept }: { accept: Schemas["AcceptView"] }) {
  const { methods, gauge, look } = accept;
  const looks = look.stages.flatMap((s) => s.looks.map((l) => ({ ...l, name: s.name })));
  return (
    <>
      {methods.length > 0 && (
        <>
          <h2>Acceptance</h2>
          <p>{methods.map((m) => `${m.name}: ${m.word}`).join(" · ")}.</p>
        </>
      )}
      {gauge.by && (
        <>
          <p>
            {gauge.line}, {gauge.count_line}. {gauge.foil?.text} {gauge.drawn_by}
          </p>
          <div className="card-gauge">
            {gauge.areas.length > 0 && <SpotsPicture gauge={gauge} area={0} />}
            <div>
              {gauge.areas.map((a) => (
                <div key={a.no}>
                  {a.level && <Level level={a.level} />}
                  <p className="small">
                    {a.spots
                      .map((s) => `${s.spot_no}: ${s.readings.join(" ") || "not read"} (${s.place})`)
                      .join(" · ")}
                  </p>
                </div>
              ))}
              {gauge.areas.length === 0 && gauge.level && <Level level={gauge.level} />}
            </div>
          </div>
          {gauge.reads.length > 0 && (
            <p className="small">{gauge.reads.map((r) => r.film.figure).join(" ")}</p>
          )}
        </>
      )}
      {looks.length > 0 && (
        <ul className="made-ready">
          {looks.map((l) => (
            <li key={l.entry}>
              {l.name}
              {l.zone ? `, ${l.zone}` : ""}: <b>{l.good ? "right" : "not right"}</b>
              {l.text ? `, ${l.text}` : ""}
              {l.photo && (
                <>
                  {" "}
                  <img
                    src={`/api/v1/photos/${l.photo.sha256}/small`}
                    alt={`${l.name}, as seen`}
                    className="card-photo"
                  />
                </>
              )}
            </li>
          ))}
          {look.sample?.photo && (
            <li>
              Should match {look.sample.text}{" "}
              <img
                src={`/api/v1/photos/${look.sample.photo.sha256}/small`}
                alt={`The sample: ${look.sample.text}`}
                className="card-photo"
              />
            </li>
          )}
        </ul>
      )}
    </>
  );
}
