// A scale that speaks fills both weights: which cup goes on first is asked, the rest is the order they are put on.
import { Button } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, ask, type Schemas } from "../../api/client";

type Both = { a_g: string; b_g: string; instrument: string };

export function CupsOnScale({ take }: { take: (both: Both) => void }) {
  const scales = useQuery({ queryKey: ["scales"], queryFn: () => ask(api.GET("/api/v1/scales")) }).data;
  const scale = scales?.find((s) => s.heard);
  const [first, setFirst] = useState<"A" | "B" | null>(null);
  if (!scale) return null;
  return (
    <>
      {first ? (
        <Listening
          scale={scale.name}
          first={first}
          take={(both) => {
            setFirst(null);
            take(both);
          }}
          stop={() => setFirst(null)}
        />
      ) : (
        <>
          {(["A", "B"] as const).map((side) => (
            <Button
              key={side}
              type="button"
              variant="outlined"
              name={`scale-${side.toLowerCase()}-first`}
              onClick={() => setFirst(side)}
            >
              {side === "A" ? "Scale: A first" : "B first"}
            </Button>
          ))}
        </>
      )}
    </>
  );
}

function Listening(props: { scale: string; first: "A" | "B"; take: (both: Both) => void; stop: () => void }) {
  const { scale, first, take, stop } = props;
  const [said, setSaid] = useState<Schemas["TwoCupsWeighed"] | null>(null);
  useEffect(() => {
    const source = new EventSource(`/api/v1/scales/two-cups?scale=${encodeURIComponent(scale)}`);
    source.addEventListener("cups", (e) =>
      setSaid(JSON.parse(String((e as MessageEvent).data)) as Schemas["TwoCupsWeighed"]),
    );
    const close = () => source.close();
    window.addEventListener("pagehide", close);
    return () => {
      window.removeEventListener("pagehide", close);
      close();
    };
  }, [scale]);
  const cups = said?.cups;
  useEffect(() => {
    if (!said || !cups?.first || !cups.second) return;
    const [a, b] = first === "A" ? [cups.first, cups.second] : [cups.second, cups.first];
    take({ a_g: a.text, b_g: b.text, instrument: said.instrument });
  });
  const other = first === "A" ? "B" : "A";
  const words = !cups
    ? "The scale is silent: type what the cups weigh."
    : cups.first
      ? cups.says.replace("second cup", `cup of ${other}`)
      : cups.says.replace("first cup", `cup of ${first}`);
  return (
    <>
      <b role="status">{words}</b>
      {cups?.load && <span className="live mono">{cups.load.text}</span>}
      <button type="button" className="link" onClick={stop} name="type-cups">
        Type them
      </button>
    </>
  );
}
