// Paper to take along. It is set when it is asked for, which takes a moment and may fail: both are said where it was asked.
import { useState } from "react";
import { fetched, Refused } from "../api/client";

export function PdfLink({ href, word = "Take as PDF" }: { href: string; word?: string }) {
  const [standing, setStanding] = useState<"idle" | "setting">("idle");
  const [why, setWhy] = useState("");
  const take = async () => {
    setStanding("setting");
    setWhy("");
    try {
      const { file, name } = await fetched(href);
      const address = URL.createObjectURL(file);
      const link = document.createElement("a");
      link.href = address;
      link.download = name;
      link.click();
      // A browser may begin to read it only after this.
      setTimeout(() => URL.revokeObjectURL(address), 10_000);
    } catch (e) {
      setWhy(e instanceof Refused ? e.problem.detail : "It could not be taken along.");
    }
    setStanding("idle");
  };
  return (
    <>
      <button
        type="button"
        name="take-pdf"
        className="export link no-print"
        disabled={standing === "setting"}
        onClick={() => void take()}
      >
        {standing === "setting" ? "Setting the pages …" : word}
      </button>
      {why && (
        <span role="alert" className="word-out small no-print">
          {why}
        </span>
      )}
    </>
  );
}
