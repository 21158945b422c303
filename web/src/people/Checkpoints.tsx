// Checkpoints: what was signed of the books and when. The owner takes one along to keep elsewhere.
import { Button } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, ask, Refused, type Schemas } from "../api/client";
import { checkpointsQuery } from "../api/queries";
import { shopTime } from "../ui/clock";
import { Empty, Failed, Loading } from "../ui/states";

export function Checkpoints({ me }: { me: Schemas["Me"] }) {
  const kept = useQuery(checkpointsQuery);
  const client = useQueryClient();
  const make = useMutation({
    mutationFn: () => ask(api.POST("/api/v1/checkpoints")),
    onSettled: () => client.invalidateQueries({ queryKey: checkpointsQuery.queryKey }),
  });
  if (kept.isPending) return <Loading what="the checkpoints" />;
  if (kept.error && !kept.data) return <Failed error={kept.error} again={() => void kept.refetch()} />;
  const why = make.error instanceof Refused ? make.error.problem.detail : "";
  return (
    <>
      <div className="board-head">
        <h2 style={{ fontSize: 20 }}>Checkpoints</h2>
        <span className="slate">
          made each day, at each signature and at each change of people or sheets; keep one elsewhere
        </span>
        <Button
          variant="outlined"
          name="make-checkpoint"
          sx={{ ml: "auto" }}
          disabled={make.isPending}
          onClick={() => make.mutate()}
        >
          Make one now
        </Button>
      </div>
      {why && <p className="refusal">{why}</p>}
      {kept.data.length === 0 ? (
        <Empty>None is kept. The settings of the server name the folder for them.</Empty>
      ) : (
        <div className="list whole">
          <table className="rows">
            <thead>
              <tr>
                <th>No</th>
                <th>Made</th>
                <th>Covers</th>
                <th>Root</th>
                <th>File</th>
              </tr>
            </thead>
            <tbody>
              {kept.data.map((c) => (
                <tr key={c.number}>
                  <td className="mono">{c.number}</td>
                  <td className="mono nowrap">{shopTime(c.made, me.zone, me.now)}</td>
                  <td>
                    {c.books} books, {c.entries} entries
                  </td>
                  <td className="mono small">{c.root.slice(0, 16)}…</td>
                  <td>
                    <a href={`/api/v1/checkpoints/${String(c.number)}`} download>
                      Take along
                    </a>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </>
  );
}
