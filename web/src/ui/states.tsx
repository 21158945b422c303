// Empty, loading and failed, designed once.
import { Button } from "@mui/material";
import type { ReactNode } from "react";

export function Loading({ what }: { what: string }) {
  return (
    <p className="empty" role="status">
      Reading {what} …
    </p>
  );
}

export function Failed({ error, again }: { error: Error; again?: () => void }) {
  return (
    <div className="empty" role="alert">
      <p className="word-out">This cannot be shown.</p>
      <p>{error.message}</p>
      {again && (
        <Button variant="outlined" onClick={again} sx={{ mt: 2 }}>
          Try again
        </Button>
      )}
    </div>
  );
}

export function Empty({ children }: { children: ReactNode }) {
  return <div className="empty">{children}</div>;
}

/** A view that broke while it was drawn. */
export function Broken({ error }: { error: unknown }) {
  return (
    <div className="empty" role="alert">
      <p className="word-out">This view broke. Nothing entered is lost.</p>
      {error instanceof Error && <p className="small mono">{error.message}</p>}
      <Button variant="outlined" onClick={() => location.reload()} sx={{ mt: 2 }}>
        Reload the page
      </Button>
    </div>
  );
}

export function Nowhere() {
  return <Empty>There is no such view. The board shows what is in work.</Empty>;
}
