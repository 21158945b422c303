// The board: what needs hands next, and where each batch stands.
import { Button, TextField } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate, useSearch } from "@tanstack/react-router";
import type { Schemas } from "../api/client";
import { boardQuery, meQuery } from "../api/queries";
import { minutes, shopTime, useElapsed } from "../ui/clock";
import { ExportLink } from "../ui/ExportLink";
import { Level } from "../ui/Level";
import { Empty, Failed, Loading } from "../ui/states";
import { DayEnd } from "./DayEnd";
import { FirstSteps } from "./FirstSteps";
import { asksOf, SortHead, sorted, type Asks, type Column } from "../ui/table";
import { SmallWaterline } from "../ui/Waterline";

const TONES = { urgent: "oxide", watch: "ochre", calm: "verdigris", quiet: "slate" } as const;

export function BoardView() {
  const board = useQuery(boardQuery);
  const zone = useQuery(meQuery).data?.zone ?? "UTC";
  const elapsed = useElapsed(board.data?.received ?? 0, board.data?.clock_rate ?? 1);
  const navigate = useNavigate();
  const { mine, find = "", sort, tonight } = useSearch({ from: "/" });
  const asks = (change: Asks & { mine?: boolean; tonight?: boolean }) => {
    const { mine: own, tonight: end, ...rest } = { find, sort, mine, tonight, ...change };
    void navigate({
      to: "/",
      search: { ...asksOf(rest), ...(own ? { mine: true } : {}), ...(end ? { tonight: true } : {}) },
      replace: true,
    });
  };
  if (board.isPending) return <Loading what="the board" />;
  if (board.error && !board.data) return <Failed error={board.error} again={() => void board.refetch()} />;
  const { as_of } = board.data;
  const yours = new Set(board.data.batches.filter((b) => b.mine).map((b) => b.id));
  const word = find.trim().toLowerCase();
  const said = (b: Schemas["BoardRow"]) => `${b.label}\n${b.product}\n${b.on_it ?? ""}`.toLowerCase();
  const wanted = board.data.batches.filter((b) => (!mine || b.mine) && said(b).includes(word));
  const shown = new Set(wanted.map((b) => b.id));
  const batches = sorted(wanted, COLUMNS, sort);
  // A rig that is left under pressure is of a batch that stands on no board any more: it is shown where nothing is looked for.
  const all = !mine && !word;
  const next = board.data.next.filter((n) => all || shown.has(n.batch));
  const empty = board.data.batches.length === 0 && board.data.next.length === 0;
  return (
    <>
      {board.data.guessing && (
        <p className="told" role="status" data-guessing>
          {board.data.guessing} Where they signed in before, nobody is locked out.
        </p>
      )}
      <div className="board-head keeps-line">
        <h1>{tonight ? "Day’s end" : "Hands next"}</h1>
        <span className="slate">
          {tonight
            ? "what may not stay over night, rigs, and what was thrown away"
            : "what is lost first, then what holds up mixed paint, then people, then chores"}
        </span>
        <Button
          variant="outlined"
          name="day-end"
          aria-pressed={tonight === true}
          sx={{ ml: "auto" }}
          onClick={() => asks({ tonight: !tonight })}
        >
          {tonight ? "Back to the board" : "Day’s end"}
        </Button>
        {!empty && !tonight && (
          <Button
            variant="outlined"
            name="mine"
            aria-pressed={mine === true}
            onClick={() => asks({ mine: !mine })}
          >
            {mine ? "Show all" : `Mine · ${yours.size}`}
          </Button>
        )}
        <Button
          variant={empty ? "outlined" : "contained"}
          onClick={() => void navigate({ to: "/begin" })}
          name="begin"
        >
          Begin a batch
        </Button>
      </div>
      {tonight ? (
        <DayEnd />
      ) : (
        <>
          <div className="hands-list">
            {empty && <FirstSteps />}
            {next.length === 0 && !empty && (
              <Empty>
                {mine
                  ? "Nothing of yours waits for hands."
                  : find
                    ? "Nothing of these waits for hands."
                    : "Nothing waits for hands."}
              </Empty>
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
            <TextField
              size="small"
              label="Find in work"
              name="find-batch"
              value={find}
              onChange={(e) => asks({ find: e.target.value })}
              sx={{ width: 220 }}
              slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 80 } }}
            />
            <ExportLink
              href={`/api/v1/board.csv?${new URLSearchParams({ find, mine: String(mine === true) }).toString()}`}
            />
          </div>
          <div className="board-room">
            <table className="rows board-rows">
              <SortHead columns={COLUMNS} sort={sort} set={(sort) => asks({ sort })} />
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
            {batches.length === 0 && (
              <Empty>{find || mine ? "No batch in work fits." : "No batch is in work."}</Empty>
            )}
          </div>
          <span className="small slate" style={{ padding: "6px 0" }}>
            as of {shopTime(as_of, zone)}
          </span>
        </>
      )}
    </>
  );
}

const COLUMNS: Column<Schemas["BoardRow"]>[] = [
  { key: "part", head: "Part and coat", by: (b) => b.label },
  { key: "product", head: "Product", by: (b) => b.product },
  { key: "hand", head: "In hand", by: (b) => b.on_it },
  { key: "left", head: "Time left", by: (b) => b.loses?.in_s },
  { key: "stands", head: "Where it stands", by: (b) => b.hands_at },
  { key: "ratio", head: "Ratio" },
  { key: "film", head: "Film, wet" },
];

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
