import { createContext } from "react";
import type { ThemeName } from "./theme";

export const ThemeChoice = createContext<{ name: ThemeName; set: (name: ThemeName) => void }>({
  name: "day",
  set: () => undefined,
});
