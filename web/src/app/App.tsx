import { StyledEngineProvider, ThemeProvider } from "@mui/material/styles";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { RouterProvider } from "@tanstack/react-router";
import { useEffect, useMemo, useState } from "react";
import { MoreBeyond } from "../ui/MoreBeyond";
import { router } from "./router";
import { applyTheme, dress, muiTheme, storedTheme, type ThemeName } from "./theme";
import { ThemeChoice } from "./themeChoice";

// "always": the browser's own idea of being online says nothing about a server on the shop's net; we ask it.
const client = new QueryClient({
  defaultOptions: {
    queries: { retry: 1, refetchOnWindowFocus: true, networkMode: "always" },
    mutations: { networkMode: "always" },
  },
});

export function App() {
  const [name, setName] = useState<ThemeName>(storedTheme);
  const choice = useMemo(
    () => ({
      name,
      set: (next: ThemeName) => {
        applyTheme(next);
        setName(next);
      },
    }),
    [name],
  );
  // Paper is white: what is printed from a dark booth is printed by day.
  useEffect(() => {
    const print = window.matchMedia("print");
    const turn = () => dress(print.matches ? "day" : name);
    print.addEventListener("change", turn);
    return () => print.removeEventListener("change", turn);
  }, [name]);
  return (
    <ThemeChoice.Provider value={choice}>
      <StyledEngineProvider enableCssLayer>
        <ThemeProvider theme={muiTheme(name)}>
          <QueryClientProvider client={client}>
            <RouterProvider router={router} />
            <MoreBeyond />
          </QueryClientProvider>
        </ThemeProvider>
      </StyledEngineProvider>
    </ThemeChoice.Provider>
  );
}
