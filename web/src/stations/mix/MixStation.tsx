// Mix: how much, then base, hardener, thinner onto one scale; stir; the pot goes to the rack.
import { Button, TextField } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { v7 } from "uuid";
import type { Schemas } from "../../api/client";
import { at, useDry, useWrite } from "../../api/entry";
import { emptying } from "../../api/turns";
import { scalesQuery } from "../../api/queries";
import { MarkedCup } from "./MarkedCup";
import { PlanPots } from "./PlanPots";
import { PotWork } from "./PotWork";
import { Rescue } from "./Rescue";
import { TwoWays } from "./TwoWays";
import { WeighIn } from "./WeighIn";
import { Choice } from "../../ui/Choice";
import { Check } from "../../ui/Check";
import { Field } from "../../ui/Field";
import { Level } from "../../ui/Level";
import { Empty } from "../../ui/states";
import { useScale } from "../../ui/ScaleChoice";
import { StationTabs } from "../../ui/StationTabs";
import { WorkingSheet } from "../../ui/WorkingSheet";
import type { StationProps } from "../../batch/station";
import { Cup } from "../../batch/Cup";

export function MixStation({ view }: StationProps) {
  const [chosen, setChosen] = useState<string | null>(null);
  const [fresh, setFresh] = useState(false);
  const [tab, setTab] = useState<"pour" | "plan" | "ways" | "mark" | "work">("pour");
  const unfinished = view.mix.pots.find((p) => p.hand || (view.hardened && !p.stirred));
  const pot = view.mix.pots.find((p) => p.id === chosen) ?? unfinished ?? view.mix.pots[0];
  if (view.at_gun) {
    return (
      <Empty>
        This product is mixed at the gun: there is nothing to weigh together. Open the charge and catch both
        streams at Prove.
      </Empty>
    );
  }
  const plan = tab === "plan" || tab === "ways";
  const all = [
    ["pour", pot && !fresh ? "Pour" : "New pot"],
    ["plan", "Plan the pots"],
    ["ways", "Two ways"],
    ["mark", "By marked cup"],
    ["work", "Fills and vessels"],
  ] as const;
  const shown = all.filter(([key]) => (key === "mark" || key === "work" ? pot && !fresh : true));
  const tabs = <StationTabs station="Mix" of={shown} at={tab} go={setTab} />;
  if (tab === "plan")
    return (
      <>
        {tabs}
        <PlanPots view={view} key={view.mix.plan?.entered ? "planned" : "new"} />
      </>
    );
  if (tab === "ways")
    return (
      <>
        {tabs}
        <TwoWays view={view} />
      </>
    );
  if (!pot || fresh || plan)
    return (
      <>
        {tabs}
        <NewPot view={view} done={() => setFresh(false)} />
      </>
    );
  if (tab === "mark")
    return (
      <>
        {tabs}
        <MarkedCup view={view} pot={pot} key={pot.id} />
      </>
    );
  if (tab === "work")
    return (
      <>
        {tabs}
        <PotWork view={view} pot={pot} key={pot.id} />
      </>
    );
  return (
    <>
      {tabs}
      <Pot
        key={pot.id}
        view={view}
        pot={pot}
        more={
          <div className="actions">
            {view.mix.pots.length > 1 &&
              view.mix.pots.map((p) => (
                <Button
                  key={p.id}
                  variant={p.id === pot.id ? "outlined" : "text"}
                  onClick={() => setChosen(p.id)}
                >
                  Pot {p.no}
                </Button>
              ))}
            {!unfinished && (
              <Button variant="contained" name="another-pot" onClick={() => setFresh(true)}>
                Mix another pot
              </Button>
            )}
          </div>
        }
      />
    </>
  );
}

function NewPot({ view, done }: StationProps & { done: () => void }) {
  const [from, setFrom] = useState("volume");
  const [form, setForm] = useState<Record<string, string>>({ wanted_ml: view.mix.propose.text });
  const [charge] = useState(() => v7());
  const { write, refused } = useWrite(view.id);
  const way = view.mix.ways.find((w) => w.from === from) ?? view.mix.ways[0];
  const asked = way?.fields.map((f) => [f.name, form[f.name] ?? ""] as const) ?? [];
  const plain = way?.from === "volume";
  const of = way?.asks_of_what ? { figure_is: form.figure_is || null } : {};
  const full = asked.every(([, v]) => v.trim() !== "") && (!way?.asks_of_what || Boolean(form.figure_is));
  const payload = {
    charge,
    kind: "pot",
    ...(plain ? Object.fromEntries(asked) : { amount: { from, ...Object.fromEntries(asked), ...of } }),
  };
  const dry = useDry(view.id, "open_charge", full ? payload : null);
  const pot = dry?.view?.mix.pots.find((p) => p.id === charge);
  const refusals = refused?.fields ?? dry?.refusals;
  const path = (name: string) => (plain ? name : `amount.${name}`);
  return (
    <>
      <form
        className="do"
        onSubmit={(e) => {
          e.preventDefault();
          void write("open_charge", payload).then((ok) => ok && done());
        }}
      >
        <span className="label">How much finished paint in this pot?</span>
        <Choice
          name="from"
          label="Reckoned from"
          value={from}
          set={setFrom}
          options={view.mix.ways.map((w) => [w.from, w.label] as const)}
        />
        <div className="fields">
          {way?.fields.map((f, i) => (
            <Field
              key={f.name}
              name={path(f.name)}
              label={f.label}
              hint={f.in_stores ?? " "}
              value={form[f.name] ?? ""}
              onChange={(v) => setForm((held) => ({ ...held, [f.name]: v }))}
              understood={dry?.understood}
              error={at(path(f.name), refusals)}
              autoFocus={i === 0}
            />
          ))}
          {way?.asks_of_what && (
            <Choice
              name="figure_is"
              label="The figure is of"
              value={form.figure_is ?? ""}
              set={(v) => setForm((held) => ({ ...held, figure_is: v }))}
              hint=" "
              options={[
                ["", " "],
                ["base", "base out of its can"],
                ["finished", "finished paint"],
              ]}
            />
          )}
        </div>
        <p className="slate">
          The coat needs {view.mix.need.text}; {view.mix.propose.text} of it is proposed for this pot.
        </p>
        <div className="actions">
          <Button type="submit" variant="contained" disabled={!full} name="open-pot">
            Open the pot
          </Button>
          {pot && !plain && (
            <span>
              makes <b className="mono">{pot.wanted.text}</b>
            </span>
          )}
          {refused && !refused.field && <span className="refusal">{refused.detail}</span>}
        </div>
        {pot && <PourTable lines={pot.lines} />}
      </form>
      <div className="see">
        {pot && <Cup marks={pot.marks} />}
        <WorkingSheet working={pot?.asked ?? view.mix.need_working} />
        <WorkingSheet working={pot?.working} last={4} />
      </div>
    </>
  );
}

function PourTable({ lines }: { lines: Schemas["PourLine"][] }) {
  return (
    <table className="rows">
      <thead>
        <tr>
          <th>Pour</th>
          <th className="num">Plan</th>
          <th className="num">Poured</th>
          <th>State</th>
        </tr>
      </thead>
      <tbody>
        {lines.map((l) => (
          <tr key={l.component} className={l.in_hand ? "now" : ""}>
            <td>
              <b>{l.name}</b>
              {l.lot && (
                <span className="lot small slate ellipsis" title={l.lot}>
                  lot {l.lot}
                </span>
              )}
            </td>
            <td className="num">{l.plan.text}</td>
            <td className="num">{l.poured?.text ?? "–"}</td>
            <td>{l.word || "–"}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Pot({ view, pot, more }: StationProps & { pot: Schemas["MixPot"]; more: React.ReactNode }) {
  const scale = useScale("bench");
  const live = useQuery(scalesQuery).data?.[0];
  const [typed, setTyped] = useState(false);
  const [reading, setReading] = useState("");
  const [lot, setLot] = useState("");
  const [tared, setTared] = useState(false);
  const { write, refused } = useWrite(view.id);
  const over = pot.lines.some((l) => l.word === "over");
  const mustCombine = pot.hand === "hardener" && !pot.combined;
  const payload =
    pot.hand && reading.trim() && !mustCombine && scale.instrument
      ? {
          charge: pot.id,
          component: pot.hand,
          reading_g: reading,
          tared,
          lot,
          instrument: scale.instrument,
        }
      : null;
  const dry = useDry(view.id, "pour", payload);
  const seen = dry?.view?.mix.pots.find((p) => p.id === pot.id) ?? pot;
  const refusals = refused?.fields ?? dry?.refusals;
  const take = () => {
    if (!payload) return;
    const answer = write("pour", payload);
    void emptying(reading, "", setReading, answer);
    void emptying(lot, "", setLot, answer);
    void emptying(tared, false, setTared, answer);
  };
  return (
    <>
      <div className="do">
        {live && pot.hand && !typed ? (
          <WeighIn view={view} pot={pot} scale={live} typeIt={() => setTyped(true)} />
        ) : mustCombine ? (
          <>
            <span className="label">Base is in. Hardener next: the pot’s clock starts with it</span>
            <div className="actions">
              <Button
                variant="contained"
                size="large"
                name="combine"
                onClick={() => void write("combine", { charge: pot.id })}
              >
                Add hardener now
              </Button>
              <span>
                to <b className="mono">{pot.to_reading?.text}</b> on the scale
              </span>
            </div>
            {refused && (
              <p className="refusal" role="alert">
                {refused.detail}
              </p>
            )}
          </>
        ) : pot.hand ? (
          <form
            style={{ display: "grid", gap: 8 }}
            onSubmit={(e) => {
              e.preventDefault();
              take();
            }}
          >
            <span className="label">
              Pour {pot.hand_name} {tared ? "into a tared cup" : "onto the same cup"}, pot {pot.no}
            </span>
            <div>
              {tared ? (
                <>
                  <span className="live mono">{pot.to_go?.figure}</span> {pot.to_go?.unit} to pour
                </>
              ) : (
                <>
                  stop at <span className="live mono">{pot.to_reading?.figure}</span> {pot.to_reading?.unit}{" "}
                  on the scale
                </>
              )}
            </div>
            <div className="fields">
              <Field
                name="reading_g"
                label="Scale shows"
                value={reading}
                onChange={setReading}
                understood={dry?.understood}
                error={at("reading_g", refusals)}
                autoFocus
              />
              <TextField
                label="Lot on the can"
                name="lot"
                value={lot}
                onChange={(e) => setLot(e.target.value)}
                error={Boolean(at("lot", refusals))}
                helperText={at("lot", refusals) ?? " "}
                slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 40 } }}
              />
            </div>
            <div className="level-slot">
              {seen.level && reading.trim() !== "" && dry?.view ? (
                <Level level={seen.level} size="big" />
              ) : (
                <p className="small slate">The level of this pour stands here while the figure is typed.</p>
              )}
            </div>
            <div className="actions">
              <Button type="submit" variant="contained" disabled={!payload} name="take-reading">
                Take this reading
              </Button>
              {pot.whole_can && (
                <Button
                  variant="outlined"
                  name="whole-can"
                  onClick={() =>
                    void write("pour", {
                      charge: pot.id,
                      component: pot.hand,
                      reading_g: 0,
                      resolution_g: 0.1,
                      whole_can: true,
                    })
                  }
                >
                  The whole can, {pot.whole_can.text}
                </Button>
              )}
              {scale.choice}
              <Check name="tared" word="tared before" on={tared} set={setTared} />
            </div>
            {refused && !refused.field && <p className="refusal">{refused.detail}</p>}
            {live && (
              <button type="button" className="link" name="by-scale" onClick={() => setTyped(false)}>
                Weigh in by {live.name}
              </button>
            )}
          </form>
        ) : view.hardened && !pot.stirred ? (
          <>
            <span className="label">All is in. Stir it through, then its induction begins</span>
            <div className="actions">
              <Button
                variant="contained"
                size="large"
                name="stirred"
                onClick={() => void write("stirred", { charge: pot.id })}
              >
                Stirred
              </Button>
            </div>
            {refused && <p className="refusal">{refused.detail}</p>}
          </>
        ) : (
          <p>
            <b>Pot {pot.no} is filled.</b> It stands on the rack with its clock.
          </p>
        )}
        {over && pot.hand && (
          <p className="word-tell">
            One pour is over: the rest of the plan has grown to match it. Nothing is taken out.
          </p>
        )}
        <Rescue view={view} pot={seen} />
        <PourTable lines={seen.lines} />
        {more}
      </div>
      <div className="see">
        <span className="label">The cup, pot {pot.no}</span>
        <Cup marks={seen.marks} />
        {seen.ratio && <Level level={seen.ratio} />}
        <WorkingSheet working={seen.working} last={4} />
      </div>
    </>
  );
}
