// One rig: its line, then its shut-down, its care, its book and how its tip wears.
import { Button } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link } from "@tanstack/react-router";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { rigFormsQuery, rigQuery } from "../api/queries";
import { StationTabs } from "../ui/StationTabs";
import { CardsIn } from "../ratio_check/CardsIn";
import { Ledger } from "../ratio_check/Ledger";
import { CareLists } from "./CareLists";
import { RigBook } from "./RigBook";
import { RigDrawing } from "./RigDrawing";
import { ShutDown } from "./ShutDown";
import { TipWear } from "./TipWear";

const TABS = [
  ["shut", "Shut-down"],
  ["care", "Care"],
  ["book", "Book"],
  ["ledger", "Ratio"],
  ["tip", "Tip"],
] as const;
type Tab = (typeof TABS)[number][0];

export function OneRig(props: {
  id: string;
  look: "shut" | "care" | undefined;
  edit: (rig: Schemas["RigView"]) => void;
  mayEdit: boolean;
}) {
  const rig = useQuery(rigQuery(props.id));
  const forms = useQuery(rigFormsQuery).data;
  const [tab, setTab] = useState<Tab>(props.look ?? "book");
  if (rig.error && !rig.data) return <p className="refusal">{rig.error.message}</p>;
  if (!rig.data) return <p className="slate">Reading the rig.</p>;
  const one = rig.data;
  const tipped = forms?.rigs.find((r) => r.kind === one.rig.kind)?.places.includes("tip") ?? false;
  const due = one.care?.lists.reduce((n, l) => n + l.due, 0) ?? 0;
  return (
    <section className="one-rig" aria-label={one.rig.name}>
      <div className="board-head">
        <h2>{one.rig.name}</h2>
        {one.under_pressure && <span className="word-out">under pressure</span>}
        <Link to="/labels" search={{ of: `rig:${one.id}` }} className="export">
          Its label
        </Link>
        {props.mayEdit && (
          <Button variant="outlined" name="edit-rig" aria-haspopup="dialog" onClick={() => props.edit(one)}>
            Change it
          </Button>
        )}
      </div>
      <RigDrawing points={one.points} brief={tab !== "book"} />
      {one.troubles.map((t) => (
        <p key={t} className="word-tell">
          {t}
        </p>
      ))}
      <StationTabs
        station="Rig"
        of={TABS.filter(
          ([k]) => (k !== "tip" || tipped) && (k !== "ledger" || one.rig.kind !== "gun_cup"),
        ).map(([k, w]) => [k, k === "care" && due > 0 ? `${w} · ${due} due` : w] as const)}
        at={tab}
        go={setTab}
      />
      <div className="tab-room">
        {tab === "shut" && <ShutDown rig={props.id} />}
        {tab === "care" && one.care && <CareLists id={props.id} care={one.care} />}
        {tab === "book" && <RigBook rig={one} tipped={tipped} />}
        {tab === "ledger" && (
          <Ledger of={{ rig: props.id }} extra={props.mayEdit && <CardsIn rig={props.id} />} />
        )}
        {tab === "tip" && <TipWear rig={one} />}
      </div>
    </section>
  );
}
