// Labels to print: a QR code that opens the lot, its code large.
import { Button } from "@mui/material";
import { useQueries } from "@tanstack/react-query";
import { Link, useSearch } from "@tanstack/react-router";
import { lotQuery } from "../api/queries";
import { Empty } from "../ui/states";

export function LabelsView() {
  const { ids } = useSearch({ from: "/stores/labels" });
  const wanted = (ids ?? "").split(",").filter(Boolean);
  const lots = useQueries({ queries: wanted.map((id) => lotQuery(id)) });
  return (
    <>
      <div className="board-head no-print" style={{ marginBottom: 8 }}>
        <h1>Labels</h1>
        <span className="slate">a scan opens the lot</span>
        <Link to="/stores" className="export">
          All lots
        </Link>
        <Button variant="contained" disabled={wanted.length === 0} onClick={() => window.print()}>
          Print
        </Button>
      </div>
      {wanted.length === 0 && <Empty>Tick the lots that want a label under Stores.</Empty>}
      <div className="labels">
        {lots.map(
          ({ data: l }) =>
            l && (
              <div key={l.id} className="lot-label">
                <img src={`/api/v1/lots/${l.id}/qr.svg`} alt={`QR code of lot ${l.code}`} />
                <div>
                  <b className="mono">{l.code}</b>
                  <span>{l.product}</span>
                  <span>
                    {l.component_name}
                    {l.colour ? `, ${l.colour}` : ""}
                  </span>
                  <span className="small">maker’s lot {l.makers_lot ?? "–"}</span>
                  <span className="small">good until {l.expires ?? "–"}</span>
                </div>
              </div>
            ),
        )}
      </div>
    </>
  );
}
