// The one place where the look is set: tokens for both themes as CSS variables, and MUI's behaviour in our dress.
import { createTheme } from "@mui/material/styles";
import tokens from "./tokens.json";

export type ThemeName = keyof typeof tokens;

const KEY = "level-keel-theme";

export function storedTheme(): ThemeName {
  return localStorage.getItem(KEY) === "booth" ? "booth" : "day";
}

/** Puts its colours on, and keeps nothing. */
export function dress(name: ThemeName) {
  for (const [token, colour] of Object.entries(tokens[name])) {
    document.documentElement.style.setProperty(`--${token}`, colour);
  }
  document.documentElement.dataset.theme = name;
}

export function applyTheme(name: ThemeName) {
  dress(name);
  localStorage.setItem(KEY, name);
}

export function muiTheme(name: ThemeName) {
  const t = tokens[name];
  return createTheme({
    palette: {
      mode: name === "booth" ? "dark" : "light",
      primary: { main: t.verdigris, contrastText: t.onVerdigris },
      error: { main: t.oxide },
      warning: { main: t.ochre },
      text: { primary: t.ink, secondary: t.slate },
      background: { default: t.ground, paper: t.panel },
      divider: t.rule,
    },
    shape: { borderRadius: 3 },
    typography: {
      fontFamily: "'Atkinson Hyperlegible Next Variable', sans-serif",
      fontSize: 16,
      htmlFontSize: 16,
      button: { textTransform: "none", fontWeight: 700, fontSize: 17 },
    },
    components: {
      MuiButtonBase: { defaultProps: { disableRipple: true } },
      MuiButton: {
        defaultProps: { disableElevation: true },
        styleOverrides: {
          root: { minHeight: 48, paddingInline: 20 },
          outlined: { borderColor: t.inkRule, color: t.ink },
        },
      },
      MuiPaper: { defaultProps: { elevation: 0 }, styleOverrides: { root: { backgroundImage: "none" } } },
      MuiPopover: { styleOverrides: { paper: { border: `2px solid ${t.inkRule}`, boxShadow: "none" } } },
      MuiDialog: {
        styleOverrides: {
          paper: {
            border: `2px solid ${t.inkRule}`,
            // On a phone a dialog has the width of the glass, but for a finger's breadth.
            "@media (max-width: 600px)": {
              margin: 10,
              width: "100%",
              maxWidth: "calc(100% - 20px)",
              maxHeight: "calc(100% - 20px)",
            },
          },
        },
      },
      MuiDrawer: {
        styleOverrides: { paper: { borderLeft: `2px solid ${t.inkRule}`, width: 480, maxWidth: "94vw" } },
      },
      MuiTextField: { defaultProps: { size: "small", fullWidth: true } },
      MuiOutlinedInput: {
        styleOverrides: {
          root: { background: t.panel, minHeight: 48 },
          notchedOutline: { borderColor: t.slate },
          input: { fontSize: 18 },
        },
      },
      // What cannot be changed is still read: no pale ink.
      MuiFormHelperText: {
        styleOverrides: {
          root: { fontSize: 14, marginInline: 2, lineHeight: 1.25, "&.Mui-disabled": { color: t.slate } },
        },
      },
      MuiInputLabel: { styleOverrides: { root: { "&.Mui-disabled": { color: t.slate } } } },
      MuiInputBase: { styleOverrides: { input: { "&.Mui-disabled": { WebkitTextFillColor: t.ink } } } },
    },
  });
}
