// A button with what it waits for: where it cannot be pressed, the reason stands beside it.
import { Button } from "@mui/material";
import { useId } from "react";

export function Act(props: {
  name: string;
  word: string;
  /** What is still wanted; nothing: it can be pressed. */
  needs: string | false | null | undefined;
  /** Missing: it sends its form. */
  press?: () => void;
  quiet?: boolean;
}) {
  const { name, word, needs, press, quiet } = props;
  const why = useId();
  return (
    <>
      <Button
        type={press ? "button" : "submit"}
        variant={quiet ? "outlined" : "contained"}
        name={name}
        disabled={Boolean(needs)}
        aria-describedby={needs ? why : undefined}
        {...(press ? { onClick: press } : {})}
      >
        {word}
      </Button>
      {needs && (
        <span id={why} className="slate small needs">
          {needs}
        </span>
      )}
    </>
  );
}
