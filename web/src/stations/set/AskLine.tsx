// The fluid line asked both ways: a pressure, a flow or a stream given, and through what else. Nothing is stored.
import { useState } from "react";
import { api, ask } from "../../api/client";
import { filledOf, useCompute } from "../../api/compute";
import type { StationProps } from "../../batch/station";
import { Asked } from "../../ui/Asked";
import { Level } from "../../ui/Level";
import { RigDrawing } from "../../rigs/RigDrawing";
import { Modelled } from "./Modelled";

const GIVEN = { pot_kpa: "", flow_ml_min: "", stream_mm: "" };
const OTHER = {
  nozzle_mm: "",
  hose_bore_mm: "",
  hose_length_mm: "",
  lift_mm: "",
  viscosity_mpa_s: "",
  paint_c: "",
};
type Given = typeof GIVEN;
type Other = typeof OTHER;

export function AskLine({ view }: StationProps<"set">) {
  const last = view.set.set_ups[view.set.set_ups.length - 1];
  const [given, setGiven] = useState<Given>({ ...GIVEN, pot_kpa: last?.pot?.text ?? "" });
  const [other, setOther] = useState<Other>(OTHER);
  const asked = filledOf(given);
  const ready = Object.keys(asked).length > 0 && Boolean(view.set.rig);
  const { data, refusals, wrong } = useCompute(
    `line ${view.id}`,
    ready ? { ...asked, ...filledOf(other) } : null,
    (line) =>
      ask(
        api.POST("/api/v1/compute/delivery/line/{id}", {
          params: { path: { id: view.id } },
          body: { line },
        }),
      ),
  );
  const model = data?.modelled ?? view.set.modelled;
  // What follows stands under the fields that were not given.
  const found: Given = {
    pot_kpa: model?.at.text ?? "",
    flow_ml_min: model?.flow.text ?? "",
    stream_mm: model?.stream.text ?? "",
  };
  const give = (name: keyof Given, label: string) => (
    <Asked
      form={given}
      // One is given and the others follow: a figure typed here takes the place of the one before.
      set={(change) => setGiven((f) => ({ ...GIVEN, [name]: change(f)[name] }))}
      name={name}
      label={label}
      hint={given[name].trim() === "" && found[name] ? `= ${found[name]}` : undefined}
      refusals={refusals}
      autoFocus={name === "pot_kpa"}
    />
  );
  const instead = (name: keyof Other, label: string) => {
    const is = view.set.line[name];
    return (
      <Asked
        form={other}
        set={setOther}
        name={name}
        label={label}
        hint={is ? `now ${is}` : undefined}
        refusals={refusals}
      />
    );
  };
  return (
    <>
      <div className="do">
        <span className="label">Give one: the other two follow</span>
        <div className="fields three">
          {give("pot_kpa", "Pot pressure")}
          {give("flow_ml_min", "Flow")}
          {give("stream_mm", "Stream")}
        </div>
        {data && <Level level={data.level} size="big" />}
        {data?.stop && (
          <p className="refusal" role="alert">
            <b>Stop. </b>
            {data.stop}
          </p>
        )}
        {data?.note && <p className="word-tell">{data.note}</p>}
        {wrong && <p className="refusal">{wrong}</p>}
        {!view.set.rig && (
          <p className="slate">Choose the rig first: its hose and nozzle are reckoned with.</p>
        )}
        <span className="label">And if it were another</span>
        <div className="fields three">
          {instead("nozzle_mm", "Nozzle")}
          {instead("hose_bore_mm", "Hose bore")}
          {instead("hose_length_mm", "Hose length")}
          {instead("lift_mm", "Gun over the pot")}
          {instead("viscosity_mpa_s", "Paint as thick as")}
          {instead("paint_c", "Paint at")}
        </div>
        {data && (
          <p className="small slate">
            Leaves the nozzle at {data.speed.text}, Reynolds {data.reynolds.text} in the hose. Nothing of this
            is kept.
          </p>
        )}
      </div>
      <div className="see">
        {model ? (
          <Modelled modelled={model} />
        ) : (
          <>
            <RigDrawing points={view.set.points} />
            <p className="small slate">What each pressure gives, drawn as soon as one figure is given.</p>
          </>
        )}
      </div>
    </>
  );
}
