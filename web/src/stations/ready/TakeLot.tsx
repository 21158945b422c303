// Takes a lot: the oldest that is fit stands first; another wants a reason.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { at, useWrite } from "../../api/entry";
import { lotsQuery } from "../../api/queries";
import { useTakes } from "../../app/takes";
import type { StationProps } from "../../batch/station";
import { LotCan } from "../../stores/LotCan";
import type { Item } from "./ReadyLists";
import { Words } from "../../ui/Words";
import { Act } from "../../ui/Act";

export function TakeLot({ view, item, after }: StationProps<"ready"> & { item: Item; after: () => void }) {
  const { write, refused, forget } = useWrite(view.id);
  const component = item.component ?? "base";
  const lots = useQuery(lotsQuery({ version: view.sheet_version, component, state: "fit" })).data?.lots;
  const [code, setCode] = useState("");
  const [reason, setReason] = useState("");
  const wantsReason = at("reason", refused?.fields);
  const take = (lot: string) => {
    setCode(lot);
    void write("take_lot", {
      component,
      lot,
      ...(reason.trim() ? { reason } : {}),
    }).then((ok) => ok && after());
  };
  useTakes((row) => {
    if (row.is === "lot") take(row.label);
    return row.is === "lot";
  });
  return (
    <form
      style={{ display: "grid", gap: 8 }}
      onSubmit={(e) => {
        e.preventDefault();
        take(code);
      }}
    >
      {lots && lots.length > 0 && (
        <div className="lot-choice">
          {lots.slice(0, 4).map((l) => (
            <button
              key={l.id}
              type="button"
              name={`lot-${l.code}`}
              className={l.first ? "first" : ""}
              onClick={() => take(l.code)}
            >
              <LotCan part={l.left_part} state={l.state} />
              <span>
                <b className="mono">{l.code}</b>
                <span className="small nowrap">{l.first ? "take first" : l.word}</span>
                <span className="small nowrap slate">{l.left.text} left</span>
              </span>
            </button>
          ))}
        </div>
      )}
      {lots?.length === 0 && (
        <p className="small word-tell">
          The stores hold no fit lot of it. Receive one, or type the code on the can.
        </p>
      )}
      <div className="actions">
        <Words
          name="lot"
          label="Code on the can"
          value={code}
          set={(text) => {
            forget();
            setCode(text);
          }}
          most={200}
          mono
          wrong={at("lot", refused?.fields)}
        />
        {(wantsReason || reason) && (
          <Words
            name="reason"
            label="Why not the first"
            value={reason}
            set={setReason}
            most={200}
            wrong={wantsReason}
            autoFocus
          />
        )}
        <Act name="take-lot" word="Take it" needs={code.trim() === "" && "type the code on the can"} />
      </div>
      {refused && !refused.field && <p className="refusal">{refused.detail}</p>}
    </form>
  );
}
