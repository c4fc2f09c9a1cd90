import "@fontsource-variable/instrument-sans";
import "@fontsource/ibm-plex-mono/400.css";
import "@fontsource/ibm-plex-mono/500.css";
import { createTheme } from "@mui/material/styles";
import { create } from "zustand";
import { persist } from "zustand/middleware";

export type Surround = "light" | "dark";

const SURROUND = "wardrobe-surround";

export const useSurround = create<{ surround: Surround; toggle: () => void }>()(
  persist(
    (set) => ({
      surround: "light",
      toggle: () => set((s) => ({ surround: s.surround === "light" ? "dark" : "light" })),
    }),
    { name: SURROUND },
  ),
);

export const NUMERALS = '"IBM Plex Mono", monospace';
const SANS = '"Instrument Sans Variable", sans-serif';

/** Greys without hue around the picture; one accent, the colour of tailor's thread. */
// Windows of one browser change together.
window.addEventListener("storage", (e) => { if (e.key === SURROUND) void useSurround.persist.rehydrate(); });

export function makeTheme(surround: Surround) {
  const dark = surround === "dark";
  const ink = dark ? "#ededed" : "#1b1b1b";
  const quiet = dark ? "#b4b4b4" : "#565656";
  const line = dark ? "#474747" : "#c4c4c4";
  return createTheme({
    palette: {
      mode: surround,
      primary: { main: dark ? "#ff8f86" : "#a5262f", contrastText: dark ? "#1b1b1b" : "#ffffff" },
      background: { default: dark ? "#1e1e1e" : "#e6e6e6", paper: dark ? "#2a2a2a" : "#f4f4f4" },
      text: { primary: ink, secondary: quiet },
      divider: line,
      error: { main: dark ? "#ff8f86" : "#a5262f" },
    },
    shape: { borderRadius: 4 },
    spacing: 8,
    typography: {
      fontFamily: SANS,
      fontSize: 13,
      h1: { fontSize: 26, fontWeight: 640, letterSpacing: "-0.01em" },
      h2: { fontSize: 18, fontWeight: 640 },
      h3: { fontSize: 14, fontWeight: 620 },
      body1: { fontSize: 14 },
      body2: { fontSize: 13, color: quiet },
      button: { textTransform: "none", fontWeight: 560, fontSize: 13.5 },
    },
    components: {
      MuiButtonBase: { defaultProps: { disableRipple: true },
        styleOverrides: { root: { fontFamily: SANS, fontSize: 14 } } },
      MuiButton: {
        defaultProps: { disableElevation: true },
        styleOverrides: { root: { minHeight: 36, whiteSpace: "nowrap" }, outlined: { borderColor: line, color: ink } },
      },
      MuiIconButton: { styleOverrides: { root: { minWidth: 36, minHeight: 36, borderRadius: 4 } } },
      MuiToggleButton: {
        styleOverrides: {
          root: {
            minHeight: 36, textTransform: "none", padding: "4px 12px", color: ink, borderColor: line,
            "&.Mui-selected": { outline: `2px dashed ${dark ? "#ff8f86" : "#a5262f"}`, outlineOffset: -3,
              backgroundColor: "transparent", fontWeight: 640 },
            "&.Mui-selected:hover": { backgroundColor: dark ? "#353535" : "#ebebeb" },
          },
        },
      },
      MuiTextField: { defaultProps: { size: "small" } },
      MuiSelect: { defaultProps: { size: "small" } },
      MuiTooltip: { defaultProps: { enterDelay: 500, describeChild: true } },
      MuiPaper: { styleOverrides: { root: { backgroundImage: "none" } } },
      MuiCssBaseline: {
        styleOverrides: {
          "html, body, #root": { height: "100%" },
          "@media (prefers-reduced-motion: reduce)": {
            "*, *::before, *::after": {
              transitionDuration: "0.01ms !important", animationDuration: "0.01ms !important",
            },
          },
          body: { overflow: "hidden", fontVariantNumeric: "tabular-nums" },
          "*:focus-visible": { outline: `2px solid ${dark ? "#ff8f86" : "#a5262f"}`, outlineOffset: 2 },
        },
      },
    },
  });
}
