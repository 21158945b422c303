// By cup: the line of a printed cup each pour is filled to, one press a pour; or a plain cup with marks of its own.
import { Button } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, Refused, type Schemas } from "../../api/client";
import { at, useDebounced, useWrite } from "../../api/entry";
import { instrumentsQuery } from "../../api/queries";
import { useEntryForm } from "../../api/useEntryForm";
import type { StationProps } from "../../batch/station";
import { CupFields, cupSent, PINT, type CupForm } from "../../rigs/CupFields";
import { Act } from "../../ui/Act";
import { Choice } from "../../ui/Choice";
import { EntryField } from "../../ui/EntryField";
import { Level } from "../../ui/Level";
import { Cup } from "./Cup";
import { CupPicture } from "./CupPicture";
import { MarkedCup } from "./MarkedCup";
import { WholeCan } from "./PourForm";

const KEY = "level-keel-printed-cup";
const PLAIN = "plain";
const OTHER = "other";

type Props = StationProps<"mix"> & { pot: Schemas["MixPot"] };

export function ByCup({ view, pot }: Props) {
  const kept = useQuery(instrumentsQuery).data?.filter((i) => i.cup) ?? [];
  const [last, setLast] = useState(() => localStorage.getItem(KEY) ?? "");
  const [other, setOther] = useState<CupForm>(PINT);
  const known = kept.some((c) => c.id === last) || last === PLAIN || last === OTHER;
  const chosen = known ? last : (kept[0]?.id ?? (view.mix.by_volume ? OTHER : PLAIN));
  const choose = (id: string) => {
    setLast(id);
    localStorage.setItem(KEY, id);
  };
  const of = kept.find((c) => c.id === chosen)?.cup;
  const choice = (
    <Choice
      name="cup"
      label="The cup"
      value={chosen}
      set={choose}
      options={[
        ...kept.map((c) => [c.id, c.name] as const),
        [OTHER, "another printed cup"],
        [PLAIN, "a plain cup, measured inside"],
      ]}
      hint=" "
    />
  );
  if (chosen === PLAIN) return <MarkedCup view={view} pot={pot} choice={choice} />;
  return (
    <OnLines
      key={chosen}
      view={view}
      pot={pot}
      choice={choice}
      cup={of ?? cupSent(other)}
      typed={of ? null : { form: other, put: (change) => setOther((f) => ({ ...f, ...change })) }}
    />
  );
}

type OnLinesProps = Props & {
  choice: React.ReactNode;
  cup: Schemas["PrintedCup"] | Schemas["PrintedCupTyped"];
  typed: { form: CupForm; put: (change: Partial<CupForm>) => void } | null;
};

function OnLines({ view, pot, choice, cup, typed }: OnLinesProps) {
  const text = useDebounced(JSON.stringify(cup));
  const { write, busy, refused } = useWrite(view.id);
  const lines = useQuery({
    queryKey: ["lines", view.id, pot.id, text, pot.wanted.text, pot.on_scale.text, pot.hand ?? ""],
    queryFn: () =>
      ask(
        api.POST("/api/v1/compute/mixing/lines/{id}/{charge}", {
          params: { path: { id: view.id, charge: pot.id } },
          body: { cup: JSON.parse(text) as Schemas["PrintedCupTyped"] },
        }),
      ),
    retry: false,
    gcTime: 0,
  });
  const refusals = lines.error instanceof Refused ? lines.error.problem.fields : [];
  const known = lines.data?.cup;
  const mustCombine = pot.hand === "hardener" && !pot.combined;
  const next = lines.data?.lines.find((l) => l.component === pot.hand);
  const says = (level: string) =>
    pot.hand && known && level.trim() && !mustCombine
      ? {
          charge: pot.id,
          component: pot.hand,
          reading_g: 0,
          resolution_g: 1,
          line: { cup: known, at: level },
        }
      : null;
  const entry = useEntryForm(view.id, "pour", { at: "" }, { says: (f) => says(f.at) });
  const seen = entry.view?.mix?.pots.find((p) => p.id === pot.id) ?? pot;
  const there = next && says(next.at);
  return (
    <>
      <form className="do" onSubmit={entry.submit}>
        {pot.whole_can && !mustCombine && (
          <div className="actions">
            <WholeCan view={view} pot={pot} />
            <span className="slate">or in a cup:</span>
          </div>
        )}
        <div className="fields">{choice}</div>
        {typed && (
          <CupFields form={typed.form} put={typed.put} wrong={(field) => at(`cup.${field}`, refusals)} />
        )}
        {lines.error && (!typed || refusals?.length === 0) && (
          <p className="refusal" role="alert">
            {lines.error.message}
          </p>
        )}
        {mustCombine ? (
          <div className="actions">
            <Button
              variant="contained"
              size="large"
              name="combine"
              disabled={busy}
              onClick={() => void write("combine", { charge: pot.id })}
            >
              Add hardener now
            </Button>
            {next && <b className="line-to-fill">{next.text}</b>}
          </div>
        ) : next ? (
          <>
            <span className="label">Pot {pot.no}: fill to the line</span>
            <b className="line-to-fill">{next.text}</b>
            <span className="slate">
              {next.between_lines ? "between two lines; " : ""}± {next.off} as an eye reads it
            </span>
            <div className="actions">
              <Button
                variant="contained"
                size="large"
                name="at-the-line"
                disabled={busy || !there}
                onClick={() => there && void write("pour", there)}
              >
                It stands there
              </Button>
            </div>
            <div className="actions">
              <EntryField
                of={entry}
                name="at"
                path="line.at"
                label="or it stands at"
                hint="as it is printed"
              />
              <Act name="take-line" word="Take this line" needs={!entry.ready && "type where it stands"} />
            </div>
          </>
        ) : (
          pot.hand &&
          lines.data && (
            <>
              <p>
                {pot.hand_name} has no line on this cup: <b>{pot.to_go?.text}</b> of it, on a scale or in
                another cup.
              </p>
            </>
          )
        )}
        {(entry.stray ?? refused?.detail) && <p className="refusal">{entry.stray ?? refused?.detail}</p>}
        {seen.ratio && <Level level={seen.ratio} />}
      </form>
      <div className="see">
        {lines.data ? <CupPicture of={lines.data} /> : <Cup marks={pot.marks} />}
        {lines.data?.whole_lines && (
          <p>
            Every pour falls on a printed line with a pot of <b className="mono">{lines.data.whole_lines}</b>.
          </p>
        )}
        {lines.data?.proves && (
          <p className={lines.data.proves_this ? "" : "word-tell"}>{lines.data.proves}</p>
        )}
        <NotKnown of={view.mix.not_known ?? []} />
      </div>
    </>
  );
}

/** What cannot be known of a product that is measured by volume alone. */
export function NotKnown({ of }: { of: string[] }) {
  if (of.length === 0) return null;
  return (
    <div>
      <span className="label">Measured by volume alone. Not known:</span>
      <ul className="small">
        {of.map((what) => (
          <li key={what}>{what}</li>
        ))}
      </ul>
    </div>
  );
}
