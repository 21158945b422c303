// A dialog that asks for something and does one thing with it.
import { Button, Dialog } from "@mui/material";
import { useId, type ReactNode } from "react";
import { Act } from "./Act";

export function FormDialog({
  title,
  action,
  name,
  busy,
  needs,
  submit,
  close,
  beside,
  children,
}: {
  title: string;
  action: string;
  name: string;
  busy: boolean;
  /** What is still wanted before it can be done. */
  needs?: string | false | undefined;
  submit: () => void;
  close: () => void;
  /** What it comes to, seen beside while it is filled in. */
  beside?: ReactNode;
  children: ReactNode;
}) {
  const id = useId();
  return (
    <Dialog open onClose={close} aria-labelledby={id} fullWidth maxWidth={beside ? "lg" : "sm"}>
      <form
        style={{ padding: 24, display: "grid", gap: 16 }}
        onSubmit={(e) => {
          e.preventDefault();
          submit();
        }}
      >
        <h2 id={id}>{title}</h2>
        {beside ? (
          <div className="form-two">
            <div className="form-of">{children}</div>
            <div className="form-beside">{beside}</div>
          </div>
        ) : (
          children
        )}
        <div className="actions">
          <Act name={name} word={action} needs={needs || (busy && "it is being written")} />
          <Button variant="outlined" onClick={close}>
            Leave it
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
