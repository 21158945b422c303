// Set of a coat by brush or roller: nothing is set, and what counts instead.
import type { Schemas } from "../../api/client";
import type { StationProps } from "../../batch/station";
import { ToStation } from "../../ui/ToStation";
import { ByHandPicture } from "../../ui/pictures/ByHandPicture";

export function ByHand({ view, by }: StationProps<"set"> & { by: Schemas["ByHand"] }) {
  return (
    <>
      <div className="do">
        <p>{by.text}</p>
        <ul className="by-hand">
          {by.how.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
        <ToStation view={view} at={5} word="To Coat" />
      </div>
      <div className="see">
        <ByHandPicture roller={by.method === "roller"} />
      </div>
    </>
  );
}
