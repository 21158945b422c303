// The film: the comb for a zone, what it makes of this pass and of the total, dry as predicted, and film by use beside it.
import { useState } from "react";
import type { Schemas } from "../../api/client";
import type { StationProps } from "../../batch/station";
import { Level } from "../../ui/Level";
import { WorkingSheet } from "../../ui/WorkingSheet";
import { CombReading, useComb } from "./CombReading";
import { Look } from "./Look";
import { PartStrip } from "./PartStrip";

type Props = StationProps<"spray"> & { zone: string | null; choose: (zone: string | null) => void };

export function Film({ view, zone, choose }: Props) {
  const [of, setOf] = useState<Schemas["CombOf"]>("total");
  const comb = useComb(view, zone, of);
  const spray = view.spray;
  const seen = comb.view?.spray ?? spray;
  const board = seen.board;
  const agreement = board?.agreement;
  return (
    <>
      <div className="do">
        {spray.proof === "look" ? (
          <Look view={view} />
        ) : (
          <CombReading view={view} entry={comb} zone={zone} of={of} setOf={setOf} />
        )}
        <PartStrip zones={seen.zones} chosen={zone} onChoose={choose} />
        {agreement && <p className={agreement.agrees ? "word-in" : "word-tell"}>{agreement.text}</p>}
      </div>
      <div className="see">
        {seen.total && <Level level={{ ...seen.total, advice: seen.advice }} size="big" />}
        {seen.this_pass && <Level level={seen.this_pass} />}
        {seen.dry && <Level level={seen.dry} />}
        {board?.by_use && <Level level={board.by_use} />}
        {!seen.total && <p className="slate">Nothing is read yet: the first reading judges its pass.</p>}
        <WorkingSheet working={seen.working} />
      </div>
    </>
  );
}
