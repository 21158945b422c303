// Keys of the whole application. They never fire while typing.
import { useEffect } from "react";

export const KEYS: [string, string][] = [
  ["1 – 6", "stations of the open batch"],
  ["n", "new entry of this station"],
  ["p", "stamp a pass"],
  ["s", "stopwatch of the catch: start, stop"],
  ["/", "find anything"],
  ["b", "board"],
  ["?", "this list"],
];

export function useKeys(act: (key: string) => boolean) {
  useEffect(() => {
    const listen = (e: KeyboardEvent) => {
      const target = e.target as HTMLElement;
      const typing = target.closest("input, textarea, select, [contenteditable]");
      if (typing || e.ctrlKey || e.metaKey || e.altKey) return;
      if (act(e.key)) e.preventDefault();
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  });
}
