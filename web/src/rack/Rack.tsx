// The pot rack: each live pot drawn in section. Its liquid falls with what is left; its ring closes with its age.
import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useEffect } from "react";
import type { PotView } from "../api/client";
import { boardQuery } from "../api/queries";
import { minutes, useElapsed } from "../ui/clock";
import { sound } from "../hands/sounds";

const TONE: Record<PotView["state"], string> = {
  filling: "slate",
  mixing: "ochre",
  inducting: "slate",
  ready: "verdigris",
  watch: "ochre",
  last_call: "oxide",
  spent: "oxide",
  open: "verdigris",
};

export function PotPicture({ pot, age, size = 80 }: { pot: PotView; age: number; size?: number }) {
  const colour = TONE[pot.state] === "ochre" ? "var(--ochre)" : `var(--${TONE[pot.state]})`;
  const round = 2 * Math.PI * 36;
  const closed = Math.min(1, Math.max(0, age));
  const liquid = 34 * pot.left_share;
  return (
    <svg width={size} height={size} viewBox="0 0 84 84" aria-hidden>
      <circle cx="42" cy="42" r="36" fill="none" stroke="var(--ring)" strokeWidth="6" />
      <circle
        cx="42"
        cy="42"
        r="36"
        fill="none"
        stroke={colour}
        strokeWidth="6"
        strokeDasharray={`${closed * round} ${round}`}
        transform="rotate(-90 42 42)"
      />
      {pot.vessel === "hose" ? (
        // A coil of hose, full.
        <path
          d="M22 56 c0 -26 40 -26 40 -8 c0 14 -30 14 -30 2 c0 -8 16 -8 20 -2"
          fill="none"
          stroke={colour}
          strokeWidth="6"
          strokeLinecap="round"
        />
      ) : (
        <>
          <rect x="29" y={62 - liquid} width="26" height={liquid} fill={colour} opacity="0.85" />
          <path
            d="M27 25 V60 q0 3 3 3 H54 q3 0 3 -3 V25 M24 25 H60"
            fill="none"
            stroke="var(--ink)"
            strokeWidth="2.5"
          />
        </>
      )}
    </svg>
  );
}

function counted(pot: PotView, elapsed: number) {
  return pot.counts_s === null || pot.counts_s === undefined
    ? null
    : minutes(Math.max(0, pot.counts_s - elapsed), pot.in_seconds);
}

export function Rack() {
  const { data } = useQuery(boardQuery);
  const elapsed = useElapsed(data?.received ?? 0, data?.clock_rate ?? 1);
  const pots = data?.pots ?? [];
  const calling = pots.find((p) => p.state === "last_call" || p.state === "spent");
  useEffect(() => {
    document.title = calling ? `${calling.word}: pot ${calling.no} · Level Keel` : "Level Keel";
  }, [calling]);
  const call = calling?.id;
  useEffect(() => {
    if (call) sound("last_call");
  }, [call]);
  return (
    <aside className="rack" aria-label="Pot rack">
      <div className="label">Pots alive · {pots.length}</div>
      {data && pots.length === 0 && (
        <p className="small slate">No pot is mixed. It will stand here with its clock.</p>
      )}
      {pots.slice(0, 3).map((p) => {
        const time = counted(p, elapsed);
        return (
          <Link key={p.id} to="/batches/$id" params={{ id: p.batch }} search={{ at: 5 }} className="pot">
            <PotPicture pot={p} age={p.age + p.age_per_s * elapsed} />
            <div>
              <div className={`minutes mono ${time && !time.unit ? "long" : ""}`}>
                {time ? time.figure : "–"}
                <small> {time?.unit}</small>
              </div>
              <div className={`tone-${TONE[p.state]}`}>
                <b>{p.word}</b>
              </div>
              <div className="small ellipsis">
                {p.vessel === "hose" ? "Hose" : `Pot ${p.no}`} · {p.part}
              </div>
              <div className="small slate nowrap">{p.note ?? `${p.left.text} left`}</div>
            </div>
          </Link>
        );
      })}
      {pots.slice(3).map((p) => {
        const time = counted(p, elapsed);
        return (
          <Link key={p.id} to="/batches/$id" params={{ id: p.batch }} search={{ at: 5 }} className="pot-row">
            <span className="ellipsis">
              {p.vessel === "hose" ? "Hose" : `Pot ${p.no}`} · {p.part}
              <br />
              <span className={`tone-${TONE[p.state]}`}>{p.word}</span>
            </span>
            <b className="mono nowrap">{time ? `${time.figure} ${time.unit}` : "–"}</b>
          </Link>
        );
      })}
    </aside>
  );
}
