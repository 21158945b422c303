// Rigs: what stands between supply and nozzle, each with its book; the pieces they are put together from; codes of tips.
import { Button } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useNavigate, useSearch } from "@tanstack/react-router";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { called, useWords } from "../api/forms";
import { meQuery, rigsQuery } from "../api/queries";
import { StationTabs } from "../ui/StationTabs";
import { Combs } from "./Combs";
import { Cups } from "./Cups";
import { InstrumentChecks } from "./InstrumentChecks";
import { OneRig } from "./OneRig";
import { Pieces } from "./Pieces";
import { RigDialog } from "./RigDialog";
import { Scales } from "./Scales";
import { Tips } from "./Tips";

const TABS = [
  ["rigs", "Rigs"],
  ["pieces", "Pieces"],
  ["tips", "Tips"],
  ["scales", "Scales, gauges, combs, cups"],
] as const;
type Tab = (typeof TABS)[number][0];

export function RigsView() {
  const me = useQuery(meQuery).data;
  const [tab, setTab] = useState<Tab>("rigs");
  const mayEdit = me?.may_edit_sheets ?? false;
  return (
    <div className="main rigs">
      <div className="board-head">
        <h1>Rigs</h1>
        <StationTabs station="Rigs" of={TABS} at={tab} go={setTab} />
      </div>
      {tab === "rigs" && <Rigs mayEdit={mayEdit} />}
      {tab === "pieces" && <Pieces mayEdit={mayEdit} />}
      {tab === "tips" && <Tips mayEdit={mayEdit} />}
      {tab === "scales" && (
        <>
          <Scales mayEdit={mayEdit} />
          <InstrumentChecks mayEdit={mayEdit} />
          <Combs mayEdit={mayEdit} />
          <Cups mayEdit={mayEdit} />
        </>
      )}
    </div>
  );
}

function Rigs({ mayEdit }: { mayEdit: boolean }) {
  const words = useWords();
  const rigs = useQuery(rigsQuery);
  const { rig: asked, look } = useSearch({ from: "/rigs" });
  const chosen = asked ?? null;
  const navigate = useNavigate();
  const setChosen = (rig: string) => void navigate({ to: "/rigs", search: { rig }, replace: true });
  const [editing, setEditing] = useState<Schemas["RigView"] | "new" | null>(null);
  const here = chosen ?? rigs.data?.[0]?.id ?? null;
  if (rigs.error && !rigs.data) return <p className="refusal">{rigs.error.message}</p>;
  return (
    <>
      {rigs.data?.length === 0 && (
        <p className="slate">
          No rig is kept yet. A rig with its hose and nozzle tells what a pressure gives before it is tried.
        </p>
      )}
      <div className="rigs-two">
        <div>
          {mayEdit && (
            <Button
              variant="contained"
              name="new-rig"
              aria-haspopup="dialog"
              onClick={() => setEditing("new")}
              fullWidth
            >
              A new rig
            </Button>
          )}
          <ul className="rig-list" aria-label="Rigs of the shop">
            {rigs.data?.map((r) => (
              <li key={r.id}>
                <button
                  type="button"
                  className={`rig-row ${r.id === here ? "now" : ""}`}
                  name={`rig-${r.rig.name}`}
                  aria-current={r.id === here}
                  onClick={() => setChosen(r.id)}
                >
                  <b className="ellipsis">{r.rig.name}</b>
                  <span className="small slate ellipsis">
                    {called(words.rig_kind, r.rig.kind)}, {r.rig.gun}
                    {r.retired ? ", not used any more" : ""}
                  </span>
                </button>
              </li>
            ))}
          </ul>
        </div>
        {here && <OneRig key={here} id={here} look={look} edit={setEditing} mayEdit={mayEdit} />}
      </div>
      {editing && (
        <RigDialog
          rig={editing === "new" ? null : editing}
          close={(id) => {
            setEditing(null);
            if (id) setChosen(id);
          }}
        />
      )}
    </>
  );
}
