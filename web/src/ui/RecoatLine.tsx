// The recoat clock: a line from the end of a coat to its latest, with now on it and a gate at the earliest.
import { Link } from "@tanstack/react-router";
import type { ReactNode } from "react";
import type { Schemas } from "../api/client";
import { minutes, shopTime } from "./clock";

const TONE: Record<Schemas["WindowState"], string> = {
  not_sprayed: "slate",
  wait: "tell",
  open: "in",
  past: "out",
};

export function RecoatLine({
  clock,
  elapsed,
  title,
  zone,
  asOf,
  children,
}: {
  clock: Schemas["RecoatClock"];
  elapsed: number;
  title: string;
  zone: string;
  asOf: string;
  children?: ReactNode;
}) {
  const left = typeof clock.changes_s === "number" ? minutes(Math.max(0, clock.changes_s - elapsed)) : null;
  const time = (t: string) => shopTime(t, zone, asOf);
  const colour = {
    wait: "var(--ochre)",
    open: "var(--verdigris)",
    past: "var(--oxide)",
    not_sprayed: "var(--slate)",
  };
  const x = (share: number) => 12 + share * 396;
  const words = [
    clock.earliest && `from ${time(clock.earliest)}`,
    clock.latest && `until ${time(clock.latest)}`,
  ];
  return (
    <section className="recoat" aria-label={title}>
      <div>
        <b>{title}</b>{" "}
        {clock.other && (
          <Link to="/batches/$id" params={{ id: clock.other.batch }}>
            {clock.other.coat}, batch {String(clock.other.number).padStart(4, "0")}
          </Link>
        )}{" "}
        <span className={`word-${TONE[clock.state]}`}>{clock.word}</span>
        {left && clock.state === "wait" && (
          <>
            {" "}
            <b className="mono nowrap">
              {left.figure} {left.unit}
            </b>
          </>
        )}
      </div>
      {typeof clock.at === "number" && (
        <svg viewBox="0 0 420 30" className="tide" aria-hidden>
          <path d="M12 16H408" stroke="var(--rule)" strokeWidth="8" />
          {typeof clock.earliest_at === "number" && (
            <path
              d={`M${x(clock.earliest_at)} 16H408`}
              stroke="var(--verdigris)"
              strokeWidth="8"
              opacity="0.45"
            />
          )}
          {typeof clock.earliest_at === "number" && (
            <path d={`M${x(clock.earliest_at)} 4v24`} stroke="var(--ink)" strokeWidth="3" />
          )}
          <path d="M408 4v24" stroke="var(--ink)" strokeWidth="3" />
          <ellipse cx={x(clock.at)} cy="16" rx="11" ry="9" fill={colour[clock.state]} />
        </svg>
      )}
      <div className="small slate">{words.filter(Boolean).join(", without abrading ")}</div>
      {children}
    </section>
  );
}
