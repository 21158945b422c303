// A batch: its waterline, what holds it, the open station, and the log strip.
import { useQuery } from "@tanstack/react-query";
import { useNavigate, useParams, useSearch } from "@tanstack/react-router";
import { useState, type ComponentType } from "react";
import { useKeys } from "../app/keys";
import { batchQuery, meQuery } from "../api/queries";
import { Failed, Loading } from "../ui/states";
import { Waterline } from "../ui/Waterline";
import { CloseStation } from "../stations/close/CloseStation";
import { LogStrip } from "./LogStrip";
import { Strip } from "./Strip";
import { AtStation, STATION_NAMES, type StationName, type StationProps } from "./station";
import { MixStation } from "../stations/mix/MixStation";
import { ProveStation } from "../stations/prove/ProveStation";
import { ReadyStation } from "../stations/ready/ReadyStation";
import { SetStation } from "../stations/set/SetStation";
import { SprayStation } from "../stations/spray/SprayStation";

const STATIONS: { [S in StationName]: ComponentType<StationProps<S>> } = {
  ready: ReadyStation,
  mix: MixStation,
  set: SetStation,
  prove: ProveStation,
  spray: SprayStation,
  close: CloseStation,
};

export function BatchPage() {
  const { id } = useParams({ from: "/batches/$id" });
  const { at } = useSearch({ from: "/batches/$id" });
  const navigate = useNavigate();
  const rate = useQuery(meQuery).data?.clock_rate;
  // Without a station in the address it is the one that wants hands, which its head says.
  const [hands, setHands] = useState<number | null>(null);
  const open = at ?? hands ?? 1;
  const station = STATION_NAMES[open - 1] ?? "ready";
  const batch = useQuery(batchQuery(id, station, rate));
  const handsAt = batch.data?.hands_at;
  if (!at && hands === null && handsAt) setHands(handsAt);
  const go = (no: number) =>
    void navigate({ to: "/batches/$id", params: { id }, search: { at: no }, replace: true });
  useKeys((key) => {
    if (/^[1-6]$/.test(key)) go(Number(key));
    else if (key === "n") document.querySelector<HTMLElement>(".do input, .do button")?.focus();
    else return false;
    return true;
  });
  if (batch.isPending) return <Loading what="the batch" />;
  if (batch.error && !batch.data) return <Failed error={batch.error} again={() => void batch.refetch()} />;
  const view = batch.data;
  return (
    <AtStation.Provider value={station}>
      <div className="batch">
        <div className="batch-head">
          <div className="batch-title">
            <h1 title={view.title}>{view.title}</h1>
            <span className="slate small" title={view.subtitle}>
              {view.subtitle}
            </span>
          </div>
          <Waterline stations={view.stations} open={open} onOpen={go} />
        </div>
        <Strip view={view} />
        <div className="station" role="tabpanel">
          <Panel key={station} station={station} view={view} />
        </div>
        <LogStrip view={view} />
      </div>
    </AtStation.Provider>
  );
}

/** The open station, once its panel is there. */
function Panel({ station, view }: StationProps & { station: StationName }) {
  if (!view[station]) return <Loading what="the station" />;
  const Station = STATIONS[station] as ComponentType<StationProps>;
  return <Station view={view} />;
}
