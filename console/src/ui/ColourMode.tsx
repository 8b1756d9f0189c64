import CssBaseline from "@mui/material/CssBaseline";
import { ThemeProvider } from "@mui/material/styles";
import useMediaQuery from "@mui/material/useMediaQuery";
import { createContext, type ReactNode, useContext, useMemo, useState } from "react";
import { themeFor } from "../theme";

type Choice = "light" | "dark" | "system";
const KEY = "gantrel-colours";
const Context = createContext<{ choice: Choice; choose: (choice: Choice) => void }>({
  choice: "system",
  choose: () => {},
});

/** Light or dark, as the reader chose or else as their system has it. */
export function ColourMode({ children }: { children: ReactNode }) {
  const [choice, setChoice] = useState<Choice>(() => (localStorage.getItem(KEY) as Choice | null) ?? "system");
  const systemDark = useMediaQuery("(prefers-color-scheme: dark)");
  const dark = choice === "dark" || (choice === "system" && systemDark);
  const theme = useMemo(() => themeFor(dark ? "dark" : "light"), [dark]);
  const choose = (next: Choice) => {
    localStorage.setItem(KEY, next);
    setChoice(next);
  };
  return (
    <Context value={{ choice, choose }}>
      <ThemeProvider theme={theme}>
        <CssBaseline />
        {children}
      </ThemeProvider>
    </Context>
  );
}

export const useColourMode = () => useContext(Context);
