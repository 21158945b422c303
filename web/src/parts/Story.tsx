// The story of a part: what went on, what was seen, what it came of, what mended it; oldest first, each line leads to its batch.
import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import type { Schemas } from "../api/client";
import { meQuery, storyQuery } from "../api/queries";
import { shopTime } from "../ui/clock";
import { Failed, Loading } from "../ui/states";

type Kind = Schemas["StoryKind"];
const tone: Record<Kind, string> = {
  work: "",
  signed: "word-in",
  defect: "word-out",
  settled: "word-tell",
  repair: "word-tell",
};
/** Where the line leads: a defect to its tab, all else to the batch. */
const at = (kind: Kind) => (kind === "defect" || kind === "settled" ? { at: 6 } : {});

export function Story({ part }: { part: string }) {
  const story = useQuery(storyQuery(part));
  const me = useQuery(meQuery).data;
  if (story.isPending) return <Loading what="its story" />;
  if (story.error && !story.data) return <Failed error={story.error} again={() => void story.refetch()} />;
  if (story.data.length === 0) return <p className="slate">Nothing was done on it yet.</p>;
  return (
    <ol className="story" aria-label="Story of the part">
      {story.data.map((l) => (
        <li key={`${l.at} ${l.batch} ${l.text}`} className={l.kind}>
          <span className="mono small nowrap">{shopTime(l.at, me?.zone ?? "UTC", me?.now)}</span>
          <span>
            <span className={tone[l.kind]}>{l.text}</span>{" "}
            <span className="small slate">
              {l.by},{" "}
              <Link to="/batches/$id" params={{ id: l.batch }} search={at(l.kind)}>
                {String(l.number).padStart(4, "0")} {l.coat}
              </Link>
            </span>
          </span>
        </li>
      ))}
    </ol>
  );
}
