// The ledger of a rig and product: its chart or its table, what its rules say, when the next check is due.
import { Button } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { meQuery } from "../api/queries";
import { Choice } from "../ui/Choice";
import { ExportLink } from "../ui/ExportLink";
import { Failed, Loading } from "../ui/states";
import { LedgerChart } from "./LedgerChart";
import { LedgerRows } from "./LedgerRows";
import { ledgerQuery, type LedgerOf } from "./ledgerQuery";
import { RenewLimits } from "./RenewLimits";
import "./ledger.css";

export function Ledger({
  of,
  catchNow,
  extra,
}: {
  of: LedgerOf;
  catchNow?: () => void;
  extra?: React.ReactNode;
}) {
  const me = useQuery(meQuery).data;
  const [sheet, setSheet] = useState("");
  const [skip, setSkip] = useState(0);
  const [all, setAll] = useState(false);
  const [listed, setListed] = useState(false);
  const asked = useQuery(ledgerQuery("rig" in of ? { ...of, sheet: sheet || of.sheet } : of, skip, all));
  if (asked.error && !asked.data) return <Failed error={asked.error} again={() => void asked.refetch()} />;
  if (!asked.data) return <Loading what="the ledger" />;
  const { page, products, rig } = asked.data;
  const query = asked.data.sheet ? `?sheet=${asked.data.sheet}` : "";
  const chart = page.chart;
  return (
    <div className="ledger-room">
      <div className="ledger-left">
        {!listed && chart && <LedgerChart chart={chart} />}
        {!listed && !chart && (
          <p className="slate">
            {rig
              ? "Nothing is proved with this rig and product yet: the first two cups begin its ledger."
              : "Choose the rig at Set: the ledger is of a rig and a product."}
          </p>
        )}
        {listed && (
          <div className="ledger-list">
            <LedgerRows rows={page.rows} zone={me?.zone ?? "UTC"} now={me?.now} />
          </div>
        )}
        <div className="actions ledger-ways">
          <Button variant="outlined" name="ledger-list" onClick={() => setListed(!listed)}>
            {listed ? "As a chart" : "As a table"}
          </Button>
          {listed && skip > 0 && (
            <Button variant="outlined" name="ledger-newer" onClick={() => setSkip(Math.max(0, skip - 50))}>
              Newer
            </Button>
          )}
          {listed && page.next !== null && page.next !== undefined && (
            <Button variant="outlined" name="ledger-older" onClick={() => setSkip(page.next ?? 0)}>
              Older
            </Button>
          )}
          {!listed && (all || (chart?.earlier ?? 0) > 0) && (
            <Button variant="outlined" name="ledger-all" onClick={() => setAll(!all)}>
              {all ? "The newest" : `All ${page.count}`}
            </Button>
          )}
          {rig && page.count > 0 && (
            <>
              <ExportLink href={`/api/v1/rigs/${rig}/ledger.csv${query}`} />
              <ExportLink href={`/api/v1/rigs/${rig}/ledger.json${query}`} word="as JSON" />
            </>
          )}
        </div>
      </div>
      <div className="ledger-said">
        {"rig" in of && products.length > 1 && (
          <Choice
            name="ledger-product"
            label="Product"
            value={asked.data.sheet ?? ""}
            set={(v) => {
              setSheet(v);
              setSkip(0);
            }}
            options={products.map((p) => [p.sheet, `${p.name} · ${p.count}`] as const)}
            hint=" "
          />
        )}
        {chart && <span className="label">Now: {chart.regimes.at(-1)?.title}</span>}
        {strongest(chart?.said ?? []).map((said) => (
          <div key={said.title}>
            <h3>{said.title}</h3>
            <p>{said.text}</p>
          </div>
        ))}
        {chart?.said.length === 0 && (
          <p className="slate">No rule says that the newest catch is of another crowd.</p>
        )}
        {page.due?.left && (
          <p className="ledger-left-kg">
            <span className="live mono">{page.due.left.figure}</span> <b>{page.due.left.unit}</b>
            <span className="slate"> may still be sprayed before the next catch</span>
          </p>
        )}
        {page.due && <p className={page.due.overdue ? "word-out" : "slate"}>{page.due.text}</p>}
        {catchNow && (
          <Button variant="contained" size="large" name="catch-now" onClick={catchNow}>
            Catch now
          </Button>
        )}
        {rig && asked.data.sheet && <RenewLimits rig={rig} sheet={asked.data.sheet} chart={chart ?? null} />}
        {extra}
      </div>
    </div>
  );
}

/** The strongest rule that fired, and what the trend says: that stands last. */
function strongest(said: Schemas["RuleSaid"][]) {
  return said.length > 2 ? [...said.slice(0, 1), ...said.slice(-1)] : said;
}
