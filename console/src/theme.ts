import "@fontsource-variable/hanken-grotesk";
import "@fontsource-variable/jetbrains-mono";
import { createTheme } from "@mui/material/styles";

export const MONO = '"JetBrains Mono Variable", monospace';
const SANS = '"Hanken Grotesk Variable", sans-serif';

/** The colours that tell outcomes apart, beside their outlines; safe for colour-blind eyes. */
export type Outcomes = {
  fine: string;
  amber: string;
  bad: string;
  going: string;
  slate: string;
  coming: string;
};

declare module "@mui/material/styles" {
  interface Palette {
    outcome: Outcomes;
    paper2: string;
  }
  interface PaletteOptions {
    outcome?: Outcomes;
    paper2?: string;
  }
}

const light = {
  mode: "light" as const,
  primary: { main: "#11596b", contrastText: "#ffffff" },
  error: { main: "#b93a25" },
  warning: { main: "#8f5d00" },
  success: { main: "#187568" },
  background: { default: "#f6f3ed", paper: "#fffdf9" },
  text: { primary: "#1b2530", secondary: "#5c6673" },
  divider: "#e3ded2",
  paper2: "#e4edec",
  outcome: { fine: "#1f8a7d", amber: "#e0a011", bad: "#c5432c", going: "#3565c4", slate: "#8b94a0", coming: "#8b94a0" },
};

const dark = {
  mode: "dark" as const,
  primary: { main: "#7cc4d4", contrastText: "#0d1519" },
  error: { main: "#f08a76" },
  warning: { main: "#e6b450" },
  success: { main: "#5cc1b1" },
  background: { default: "#14191d", paper: "#1b2227" },
  text: { primary: "#e9e6df", secondary: "#a4adb5" },
  divider: "#313a41",
  paper2: "#21343a",
  outcome: { fine: "#3aa999", amber: "#e6b450", bad: "#e0654d", going: "#6f9bf0", slate: "#7e8994", coming: "#8d98a3" },
};

export function themeFor(mode: "light" | "dark") {
  return createTheme({
    palette: mode === "light" ? light : dark,
    shape: { borderRadius: 5 },
    typography: {
      fontFamily: SANS,
      fontSize: 13.5,
      h1: { fontSize: "1.25rem", fontWeight: 650, lineHeight: 1.35, overflowWrap: "anywhere" },
      h2: { fontSize: "0.95rem", fontWeight: 650 },
      h3: { fontSize: "0.72rem", fontWeight: 700, letterSpacing: "0.09em", textTransform: "uppercase" },
      button: { textTransform: "none", fontWeight: 600 },
    },
    components: {
      MuiPaper: { defaultProps: { variant: "outlined" } },
      MuiButton: { defaultProps: { disableElevation: true, size: "small" } },
      MuiTextField: { defaultProps: { size: "small" } },
      MuiTooltip: {
        styleOverrides: {
          tooltip: {
            backgroundColor: "#1b2530",
            color: "#f3efe6",
            fontSize: "0.78rem",
            maxWidth: 420,
            padding: "8px 12px",
          },
        },
      },
      MuiCssBaseline: {
        styleOverrides: {
          body: { fontFeatureSettings: '"tnum"' },
          // whoever asked their device for less movement gets none
          "@media (prefers-reduced-motion: reduce)": {
            "*, *::before, *::after": {
              animationDuration: "0.01ms !important",
              animationIterationCount: "1 !important",
              transitionDuration: "0.01ms !important",
              scrollBehavior: "auto !important",
            },
            "svg animate": { display: "none" },
          },
          // on paper a page is its content: no menus, no buttons, nothing cut off by what scrolls
          "@media print": {
            "@page": { margin: "14mm" },
            body: { backgroundColor: "#fff !important", color: "#000" },
            "button, .MuiButton-root, .MuiInputBase-root": { display: "none !important" },
            "section, article, tr, .MuiPaper-root": { breakInside: "avoid" },
            "[role=log]": { height: "auto !important", overflow: "visible !important", contain: "none !important" },
            "a[href]": { color: "inherit", textDecoration: "none" },
          },
          "a:focus-visible, button:focus-visible, [tabindex]:focus-visible": {
            outline: "2px solid currentColor",
            outlineOffset: 2,
          },
        },
      },
    },
  });
}
