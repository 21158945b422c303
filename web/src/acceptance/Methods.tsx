// What accepts the coat, each with how it stands; a tap opens where it is done.
import type { Schemas } from "../api/client";

type Method = Schemas["MethodSeen"];

const tone = (m: Method) =>
  m.verdict === "in" ? "word-in" : m.verdict === "low" || m.verdict === "high" ? "word-out" : "word-tell";

export function Methods({ methods, go }: { methods: Method[]; go: (tab: "gauge" | "look") => void }) {
  if (methods.length === 0) return null;
  const tab = (m: Method) =>
    m.by === "look" ? "look" : ["spots", "eighty_twenty", "least_most"].includes(m.by) ? "gauge" : null;
  return (
    <>
      <span className="label">Accepted by</span>
      <ul className="stage-rows">
        {methods.map((m) => {
          const to = tab(m);
          const said = (
            <>
              <span>{m.name}</span>
              <b className={tone(m)}>{m.word}</b>
            </>
          );
          return (
            <li key={m.by}>
              {to ? (
                <button type="button" name={`method-${m.by}`} onClick={() => go(to)}>
                  {said}
                </button>
              ) : (
                <div className="method-line">{said}</div>
              )}
            </li>
          );
        })}
      </ul>
    </>
  );
}
