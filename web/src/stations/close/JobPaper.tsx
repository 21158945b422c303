// One print of a job: the cards of its coats, one after the other.
import { Button } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useParams } from "@tanstack/react-router";
import { batchQuery } from "../../api/queries";
import { Failed, Loading } from "../../ui/states";
import { CardPaper } from "./CardView";

export function JobPaper() {
  const { id } = useParams({ from: "/jobs/$id" });
  const first = useQuery(batchQuery(id, "close", undefined));
  if (first.isPending) return <Loading what="the job" />;
  if (first.error && !first.data) return <Failed error={first.error} again={() => void first.refetch()} />;
  const view = first.data;
  const coats = view.job?.coats ?? [];
  return (
    <div className="job-paper">
      <div className="board-head">
        <h1>
          {view.part_name}: {coats.length} coats
        </h1>
        <span className="slate">{coats.map((c) => `coat ${c.coat} ${c.word}`).join(", ")}</span>
        <Button className="no-print" variant="contained" onClick={() => window.print()} name="print-job">
          Print the job
        </Button>
      </div>
      {coats
        .filter((c) => !c.left_out)
        .map((c) => (
          <CardPaper key={c.batch} id={c.batch} />
        ))}
    </div>
  );
}
