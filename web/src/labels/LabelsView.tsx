// Labels to print in their true size: a code that opens the thing, its name large, what matters under it.
import { Button } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useNavigate, useRouter, useSearch } from "@tanstack/react-router";
import type { Schemas } from "../api/client";
import { labelsQuery, meQuery } from "../api/queries";
import { Choice } from "../ui/Choice";
import { shopTime } from "../ui/clock";
import { Empty, Failed, Loading } from "../ui/states";

export function LabelsView() {
  const { of, paper } = useSearch({ from: "/labels" });
  const sheet = useQuery({ ...labelsQuery(of ?? ""), enabled: Boolean(of) });
  const navigate = useNavigate();
  const { history } = useRouter();
  if (!of)
    return <Empty>Tick the lots that want a label under Stores, or open a part, a rig or a pot.</Empty>;
  if (sheet.isPending) return <Loading what="the labels" />;
  if (sheet.error && !sheet.data) return <Failed error={sheet.error} again={() => void sheet.refetch()} />;
  const { labels, papers } = sheet.data;
  const size = papers.find((p) => p.paper === paper) ?? papers[0];
  return (
    <>
      <div className="board-head no-print" style={{ marginBottom: 8 }}>
        <h1>Labels</h1>
        <span className="slate">a scan opens what it names</span>
        <Choice
          name="paper"
          label="Paper"
          value={size?.paper ?? "sheet"}
          set={(paper) => void navigate({ to: "/labels", search: { of, paper }, replace: true })}
          options={papers.map((p) => [p.paper, p.word] as const)}
        />
        <Button variant="outlined" name="back" onClick={() => history.back()}>
          Back
        </Button>
        <Button variant="contained" name="print" onClick={() => window.print()}>
          Print
        </Button>
      </div>
      <div className="label-gauge">
        <span />
        This bar is 50 mm long on paper. If it is not, print at 100 %.
      </div>
      <div className="labels">
        {size && labels.map((l) => <OneLabel key={l.address} printed={l} size={size} />)}
      </div>
    </>
  );
}

function OneLabel({ printed, size }: { printed: Schemas["PrintedLabel"]; size: Schemas["PaperSize"] }) {
  const me = useQuery(meQuery).data;
  const { label, code } = printed;
  const time = (at: string) => shopTime(at, me?.zone ?? "UTC", me?.now);
  const last = label.times.at(-1);
  const before = label.times.slice(0, -1);
  return (
    <div
      className={`thing-label of-${label.is} on-${size.paper}`}
      style={{ width: `${String(size.width_mm)}mm`, height: `${String(size.height_mm)}mm` }}
    >
      <svg
        viewBox={`0 0 ${String(code.dots)} ${String(code.dots)}`}
        style={{ width: `${String(size.code_mm)}mm` }}
        shapeRendering="crispEdges"
        role="img"
        aria-label={`Code of ${label.heading}`}
      >
        <path d={code.path} />
      </svg>
      <div>
        <div className="heading">
          <b>{label.heading}</b>
          {last && (
            <b className="until">
              {last.word} {time(last.at)}
            </b>
          )}
        </div>
        {label.caution && <strong>{label.caution}</strong>}
        {label.lines.map((line) => (
          <span key={line}>{line}</span>
        ))}
        {before.length > 0 && <span>{before.map((t) => `${t.word} ${time(t.at)}`).join(" · ")}</span>}
      </div>
    </div>
  );
}
