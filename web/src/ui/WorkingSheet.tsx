// Working: the sum as one would write it on paper. Short form under the picture, whole in a drawer.
import { Button, Drawer } from "@mui/material";
import { useState } from "react";
import type { Working } from "../api/client";

function Lines({ working, last }: { working: Working; last?: number }) {
  const lines = last ? working.lines.slice(-last) : working.lines;
  return (
    <div className="sum">
      {lines.map((l) => (
        <div key={l.label}>
          {l.label} <span className="slate">{l.figures}</span> = <b>{l.result}</b>
        </div>
      ))}
    </div>
  );
}

export function WorkingSheet({ working, last = 2 }: { working: Working | null | undefined; last?: number }) {
  const [open, setOpen] = useState(false);
  if (!working) return null;
  return (
    <div className="working">
      <Lines working={working} last={last} />
      <button type="button" className="link" aria-haspopup="dialog" onClick={() => setOpen(true)}>
        Open the working: {working.title}
      </button>
      <Drawer
        anchor="right"
        open={open}
        onClose={() => setOpen(false)}
        slotProps={{ paper: { "aria-label": working.title } }}
      >
        <div style={{ padding: 24 }}>
          <h2>{working.title}</h2>
          <div style={{ margin: "16px 0" }}>
            <Lines working={working} />
          </div>
          <p className="slate">{working.source}</p>
          <Button sx={{ mt: 3 }} variant="outlined" onClick={() => setOpen(false)}>
            Close
          </Button>
        </div>
      </Drawer>
    </div>
  );
}
