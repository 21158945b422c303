// The board: what needs hands next, and where each batch stands.
import { Button } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import type { Schemas } from "../api/client";
import { boardQuery, meQuery } from "../api/queries";
import { minutes, shopTime, useElapsed } from "../ui/clock";
import { ExportLink } from "../ui/ExportLink";
import { Level } from "../ui/Level";
import { Empty, Failed, Loading } from "../ui/states";
import { FirstSteps } from "./FirstSteps";
import { SmallWaterline } from "../ui/Waterline";

const TONES = { urgent: "oxide", watch: "ochre", calm: "verdigris", quiet: "slate" } as const;

export function BoardView() {
  const board = useQuery(boardQuery);
  const zone = useQuery(meQuery).data?.zone ?? "UTC";
  const elapsed = useElapsed(board.data?.received ?? 0, board.data?.clock_rate ?? 1);
  const navigate = useNavigate();
  const mine = useSearch({ from: "/" }).mine === true;
  if (board.isPending) return <Loading what="the board" />;
  if (board.error && !board.data) return <Failed error={board.error} again={() => void board.refetch()} />;
  const { as_of } = board.data;
  const yours = new Set(board.data.batches.filter((b) => b.mine).map((b) => b.id));
  const batches = mine ? board.data.batches.filter((b) => b.mine) : board.data.batches;
  const next = mine ? board.data.next.filter((n) => yours.has(n.batch)) : board.data.next;
  const empty = board.data.batches.length === 0 && board.data.next.length === 0;
  return (
    <>
      <div className="board-head">
        <h1>Hands next</h1>
        <span className="slate">
          what is lost first, then what holds up mixed paint, then people, then chores
        </span>
        {!empty && (
          <Button
            variant="outlined"
            name="mine"
            aria-pressed={mine}
            sx={{ ml: "auto" }}
            onClick={() => void navigate({ to: "/", search: mine ? {} : { mine: true } })}
          >
            {mine ? "Show all" : `Mine · ${yours.size}`}
          </Button>
        )}
        <Button
          variant={empty ? "outlined" : "contained"}
          sx={empty ? { ml: "auto" } : {}}
          onClick={() => void navigate({ to: "/begin" })}
          name="begin"
        >
          Begin a batch
        </Button>
      </div>
      <div className="hands-list">
        {empty && <FirstSteps />}
        {next.length === 0 && !empty && (
          <Empty>{mine ? "Nothing of yours waits for hands." : "Nothing waits for hands."}</Empty>
        )}
        {next.map((n, i) => {
          const left = n.in_s - elapsed;
          const time = minutes(left);
          return (
            <Link
              key={`${n.batch}${n.text}${i}`}
              to="/batches/$id"
              params={{ id: n.batch }}
              search={{ at: n.station }}
              className="next"
            >
              <span className={`bar ${n.tone}`} />
              <span className="at mono">
                {left > 5 ? shopTime(n.at, zone) : n.waits === "chore" ? "" : "now"}
              </span>
              <b className={`mono nowrap tone-${TONES[n.tone]}`}>
                {left > 5 ? `${time.figure} ${time.unit}` : ""}
              </b>
              <span>
                <span className="what">{n.text}</span>
                <br />
                <span className="slate small">{n.why}</span>
              </span>
              <span>{n.part}</span>
            </Link>
          );
        })}
      </div>
      <div className="board-head" style={{ marginTop: 18 }}>
        <h2>In work</h2>
        <span className="slate">{batches.length === 1 ? "1 batch" : `${batches.length} batches`}</span>
        <ExportLink href="/api/v1/board.csv" />
      </div>
      <div style={{ overflow: "auto", minHeight: 120 }}>
        <table className="rows board-rows">
          <thead>
            <tr>
              <th>Part and coat</th>
              <th>Product</th>
              <th>In hand</th>
              <th>Time left</th>
              <th>Where it stands</th>
              <th>Ratio</th>
              <th>Film, wet</th>
            </tr>
          </thead>
          <tbody>
            {batches.map((b) => (
              <tr
                key={b.id}
                className="tap"
                onClick={() =>
                  void navigate({ to: "/batches/$id", params: { id: b.id }, search: { at: b.hands_at } })
                }
              >
                <td>
                  <Link to="/batches/$id" params={{ id: b.id }} search={{ at: b.hands_at }}>
                    <b>{b.label}</b>
                  </Link>
                </td>
                <td>{b.product}</td>
                <td className="nowrap">{b.mine ? "you" : b.on_it}</td>
                <td className="nowrap">{b.loses && <TimeLeft loses={b.loses} elapsed={elapsed} />}</td>
                <td>
                  <SmallWaterline stations={b.stations} />
                </td>
                <td>{b.ratio && <Level level={b.ratio} size="list" />}</td>
                <td>{b.film && <Level level={b.film} size="list" />}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {batches.length === 0 && <Empty>No batch is in work.</Empty>}
      </div>
      <span className="small slate" style={{ padding: "6px 0" }}>
        as of {shopTime(as_of, zone)}
      </span>
    </>
  );
}

/** What is lost first in a batch, with the minutes until it is. */
function TimeLeft({ loses, elapsed }: { loses: Schemas["LosesNext"]; elapsed: number }) {
  const left = loses.in_s - elapsed;
  const time = minutes(left);
  return (
    <span>
      <b className={`mono ${left > 5 ? "" : "tone-oxide"}`}>
        {left > 5 ? `${time.figure} ${time.unit}` : "now"}
      </b>
      <span className="unseen">, {loses.what}</span>
    </span>
  );
}
