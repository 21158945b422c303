// How a pair of catches is taken, in the order of the hands.
export function CatchGuide({ neverPool, bySetting }: { neverPool: boolean; bySetting: boolean }) {
  return (
    <>
      <ol className="catch-guide">
        <li>Vent, and wipe both outlets clean.</li>
        <li>
          Two clean cups of a kind, tared, one under each outlet
          {bySetting ? "." : "; see each stream alone by its valve first."}
        </li>
        <li>Full trigger, both for the same time: half a trigger lies.</li>
      </ol>
      <p className="small slate">
        {neverPool
          ? "Never pour the catches together: peroxide and resin are disposed of apart, rags wetted."
          : "Pool the catches out of the way, not in the supplies."}
      </p>
    </>
  );
}
