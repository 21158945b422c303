import { Button, Dialog, MenuItem, TextField } from "@mui/material";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, Outlet, useNavigate, useRouterState } from "@tanstack/react-router";
import { useContext, useState } from "react";
import {
  api,
  ask,
  Refused,
  serverAnswers,
  sessionOver,
  stalePage,
  useSignal,
  type Schemas,
} from "../api/client";
import { formsQuery } from "../api/forms";
import { useLive } from "../api/live";
import { boardQuery, meQuery } from "../api/queries";
import { SignIn } from "../people/SignIn";
import { HandsDialog } from "../hands/HandsDialog";
import { usePedal } from "../hands/pedal";
import { say } from "../hands/say";
import { Rack } from "../rack/Rack";
import { shopTime, useElapsed } from "../ui/clock";
import { Failed, Loading } from "../ui/states";
import { Finder } from "./Finder";
import { KEYS, useKeys } from "./keys";
import { switchPerson, useIdleLock } from "./idle";
import { ThemeChoice } from "./themeChoice";
import { UnitSwitch, useReads } from "./UnitSwitch";
import { useWedge } from "./wedge";
import { Waiting } from "./Waiting";

const isOver = (e: Error) => e instanceof Refused && e.problem.status === 401;

export function Shell() {
  const me = useQuery(meQuery);
  useLive(me.isSuccess);
  useIdleLock(me.data?.idle_lock_s ?? 0);
  const online = useSignal(serverAnswers);
  const old = useSignal(stalePage);
  const over = useSignal(sessionOver);
  const path = useRouterState({ select: (s) => s.location.pathname });
  const forms = useQuery({ ...formsQuery, enabled: me.isSuccess });
  if (me.isPending) return <Loading what="who is here" />;
  // Whoever is here stays here while the server is silent.
  if (me.error && (!me.data || isOver(me.error))) {
    if (isOver(me.error)) return <SignIn />;
    return <Failed error={me.error} again={() => void me.refetch()} />;
  }
  if (forms.isPending) return <Loading what="the words of the page" />;
  if (!forms.data) return <Failed error={forms.error} again={() => void forms.refetch()} />;
  return (
    <div className="shell">
      {over && (
        // What was typed stays below, as it was.
        <div className="overlay">
          <SignIn />
        </div>
      )}
      <div>
        <Top me={me.data} />
        <Waiting me={me.data} online={online} />
        <ClockSaid />
        {old && (
          <div className="banner no-print" role="alert">
            This page is older than its server.{" "}
            <button type="button" name="reload" onClick={() => location.reload()}>
              Reload
            </button>
          </div>
        )}
      </div>
      <div className="deck">
        <main className="main" tabIndex={0} key={path.split("/").slice(0, 3).join("/")}>
          <Outlet />
        </main>
        <Rack />
      </div>
    </div>
  );
}

/** The machine's clock was set: ages are told by what went by, and everybody is told. */
function ClockSaid() {
  const said = useQuery(boardQuery).data?.clock_said;
  return said ? (
    <div className="told no-print" role="status" data-clock>
      {said}
    </div>
  ) : null;
}

function Top({ me }: { me: Schemas["Me"] & { received: number } }) {
  const board = useQuery(boardQuery).data;
  const elapsed = useElapsed(me.received, me.clock_rate);
  const [dialog, setDialog] = useState<"person" | "keys" | "hands" | null>(null);
  // What the finder opens with: nothing typed yet, or a line a scanner wrote.
  const [finding, setFinding] = useState<string | null>(null);
  const navigate = useNavigate();
  useWedge(setFinding);
  usePedal();
  useKeys((key) => {
    if (key === "b") void navigate({ to: "/" });
    else if (key === "?") setDialog("keys");
    else if (key === "/") setFinding("");
    else if (key === "h") say();
    else return false;
    return true;
  });
  const now = new Date(new Date(me.now).getTime() + elapsed * 1000).toISOString();
  const air = board?.air;
  return (
    <header className="top">
      <Link to="/" className="brand">
        <svg width="46" height="24" viewBox="0 0 46 24" aria-hidden>
          <rect
            x="1.5"
            y="3.5"
            width="43"
            height="17"
            rx="8.5"
            fill="var(--vial)"
            stroke="var(--ink)"
            strokeWidth="2.5"
          />
          <rect x="17" y="7" width="12" height="10" rx="5" fill="var(--verdigris)" />
          <path d="M15 1v22M31 1v22" stroke="var(--ink)" strokeWidth="2.5" />
        </svg>
        <span className="wide">Level Keel</span>
        {me.demo && <span className="demo-mark">demo</span>}
      </Link>
      <nav aria-label="Views">
        <Link to="/" activeOptions={{ exact: true }}>
          Board
        </Link>
        <Link to="/parts">Parts</Link>
        <Link to="/stores">Stores</Link>
        <Link to="/sheets">Sheets</Link>
        <Link to="/rigs">Rigs</Link>
        <Link to="/records">Records</Link>
        {me.may_keep_people && <Link to="/people">People</Link>}
      </nav>
      <Button
        variant="text"
        name="find"
        aria-haspopup="dialog"
        onClick={() => setFinding("")}
        sx={{ color: "text.primary", px: 1, minWidth: 0 }}
      >
        Find
      </Button>
      {finding !== null && <Finder key={finding} begin={finding} close={() => setFinding(null)} />}
      <span className="air small">
        {air && `${air.text} · ${board.humidity?.text} · dew ${board.dew_point?.text}`}
      </span>
      <span className="clock mono">{shopTime(now, me.zone)}</span>
      <UnitSwitch me={me} />
      <Button
        variant="text"
        name="person"
        aria-haspopup="dialog"
        onClick={() => setDialog("person")}
        sx={{ color: "text.primary", px: 1, minWidth: 0 }}
      >
        {me.name}
      </Button>
      {dialog === "person" && (
        <PersonDialog
          me={me}
          close={() => setDialog(null)}
          keys={() => setDialog("keys")}
          hands={() => setDialog("hands")}
        />
      )}
      {dialog === "hands" && <HandsDialog close={() => setDialog(null)} />}
      <Dialog open={dialog === "keys"} onClose={() => setDialog(null)} aria-labelledby="keys-title">
        <div style={{ padding: 24, minWidth: "min(340px, 100%)" }}>
          <h2 id="keys-title">Keys</h2>
          <table className="rows">
            <tbody>
              {KEYS.map(([key, what]) => (
                <tr key={key}>
                  <td className="mono nowrap">{key}</td>
                  <td>{what}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </Dialog>
    </header>
  );
}

function PersonDialog({
  me,
  close,
  keys,
  hands,
}: {
  me: Schemas["Me"];
  close: () => void;
  keys: () => void;
  hands: () => void;
}) {
  const client = useQueryClient();
  const theme = useContext(ThemeChoice);
  const set = useReads();
  const leave = async () => {
    await ask(api.DELETE("/api/v1/session"));
    close();
    client.clear();
    await client.resetQueries({ queryKey: ["me"] });
  };
  return (
    <Dialog open onClose={close} aria-labelledby="person-title">
      <div style={{ padding: 24, display: "grid", gap: 18, minWidth: "min(360px, 100%)" }}>
        <h2 id="person-title">
          {me.name}, {me.role}
        </h2>
        <p className="slate">
          {me.shop}
          {me.demo ? ": the demo, an invented shop" : ""}
        </p>
        <TextField
          select
          label="Numbers"
          value={me.numbers}
          onChange={(e) => void set({ units: me.units, numbers: e.target.value as Schemas["NumberFormat"] })}
        >
          <MenuItem value="point">1604.2</MenuItem>
          <MenuItem value="comma">1604,2</MenuItem>
        </TextField>
        <TextField
          select
          label="Theme"
          value={theme.name}
          onChange={(e) => theme.set(e.target.value as "day" | "booth")}
        >
          <MenuItem value="day">Day</MenuItem>
          <MenuItem value="booth">Booth, dark</MenuItem>
        </TextField>
        <div className="actions">
          <Button variant="contained" onClick={() => void leave()}>
            Sign out
          </Button>
          <Button
            variant="outlined"
            name="switch-person"
            onClick={() => {
              close();
              void switchPerson();
            }}
          >
            Someone else
          </Button>
          <Button variant="outlined" aria-haspopup="dialog" onClick={keys}>
            Keys
          </Button>
          <Button variant="outlined" name="hands-and-ears" aria-haspopup="dialog" onClick={hands}>
            Hands and ears
          </Button>
          <Link to="/people" onClick={close}>
            Where you are signed in
          </Link>
        </div>
      </div>
    </Dialog>
  );
}
