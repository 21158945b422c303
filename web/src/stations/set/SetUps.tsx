// A try of pressure: what to set next, what was seen, what the transmitters read, what the model makes of it.
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { filledOf } from "../../api/compute";
import { useEntryForm } from "../../api/useEntryForm";
import type { StationProps } from "../../batch/station";
import { useRigTaken } from "./RigLine";
import { SetUpForm } from "./SetUpForm";
import { SetUpSeen } from "./SetUpSeen";

export const EMPTY = {
  pot_kpa: "",
  b_kpa: "",
  atomizing_kpa: "",
  stream_mm: "",
  catalyst_kpa: "",
  cap_kpa: "",
  supply_kpa: "",
  a_valve_turns_count: "",
  b_valve_turns_count: "",
  flowed: "" as Schemas["Flowed"] | "",
  air_at: "" as Schemas["ReadAt"] | "",
  air_how: "" as Schemas["ReadHow"] | "",
  pattern: "" as Schemas["Pattern"] | "",
  cap: "" as Schemas["CapTurn"] | "",
  step: "",
  fan_turns_count: "",
  needle_turns_count: "",
  refine_turns_count: "",
  texture_grit_count: "",
  looked_after_s: "",
};
type Texts = typeof EMPTY;
export type SetUpTexts = Texts & { photo: Schemas["Attached"] | null };

/** What a try says. Where a pressure is set it begins with that; else with anything that was set or seen. */
const saying = (pressed: boolean, { photo, ...texts }: SetUpTexts): Schemas["SetUpTyped"] | null => {
  const { air_at, air_how, pattern, cap, flowed, ...figures } = texts;
  // The step alone is no try, nor which stream it is of.
  const some = pattern || photo || Object.values({ ...figures, step: "" }).some((t) => t.trim());
  if (pressed ? !(flowed === "b" ? texts.b_kpa : texts.pot_kpa).trim() : !some) return null;
  // Where and how the air was read goes with an air that was read.
  const air = texts.atomizing_kpa.trim() !== "";
  return {
    ...filledOf(figures),
    ...(air && air_at ? { air_at } : {}),
    ...(air && air_how ? { air_how } : {}),
    ...(pattern ? { pattern } : {}),
    ...(cap ? { cap } : {}),
    ...(flowed ? { flowed } : {}),
    ...(photo ? { photo } : {}),
  };
};

export function SetUps({ view, toRig }: StationProps<"set"> & { toRig: () => void }) {
  const [more, setMore] = useState(false);
  const taken = useRigTaken(view);
  const next = view.set.flows_next ?? "";
  const entry = useEntryForm(view.id, "set_up", { ...EMPTY, photo: null } as SetUpTexts, {
    says: (f) => saying(view.set.pressed, { ...f, flowed: f.flowed || next }),
    before: taken.before,
    // The next try begins with the air read where and how it was read before.
    keep: (f) => ({ air_at: f.air_at, air_how: f.air_how }),
  });
  const takeOver = (good: Schemas["Preset"]) => {
    entry.put({ ...good.typed, air_at: good.air_at ?? "", air_how: good.air_how ?? "" });
    // Nothing that was taken over stays folded away.
    if (view.set.asks?.some((a) => !a.first && good.typed?.[a.field])) setMore(true);
  };
  const typed = entry.ready && (entry.form.stream_mm.trim() !== "" || entry.form.pattern !== "");
  const seen = (entry.ready ? entry.view?.set : undefined) ?? view.set;
  const stream = (typed ? seen.stream : view.set.stream) ?? null;
  return (
    <>
      <SetUpForm
        view={view}
        entry={entry}
        seen={seen}
        stream={stream}
        more={more}
        setMore={setMore}
        refused={taken.refused}
      />
      <SetUpSeen
        view={view}
        entry={entry}
        seen={seen}
        stream={stream}
        tap={(mm) => entry.put({ stream_mm: `${mm.toFixed(0)} mm` })}
        takeOver={takeOver}
        toRig={toRig}
      />
    </>
  );
}
