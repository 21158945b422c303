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
