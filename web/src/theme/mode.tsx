// Light or dark: the system's choice until the user makes one, which this computer remembers.
import CssBaseline from "@mui/material/CssBaseline";
import { ThemeProvider } from "@mui/material/styles";
import { createContext, useContext, useLayoutEffect, useMemo, useState, type ReactNode } from "react";
import { themeFor } from "./theme";

type Mode = "light" | "dark";
type Preferences = {
  mode: Mode;
  toggleMode: () => void;
  us: boolean;
  toggleUs: () => void;
  electrons: boolean;
  toggleElectrons: () => void;
};
const Context = createContext<Preferences | null>(null);

export function usePreferences(): Preferences {
  const found = useContext(Context);
  if (!found) throw new Error("usePreferences needs a Preferences provider above it");
  return found;
}

function remembered(): Mode {
  const kept = localStorage.getItem("mode");
  if (kept === "light" || kept === "dark") return kept;
  return matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light";
}

export function Preferences({ children }: { children: ReactNode }) {
  const [mode, setMode] = useState(remembered);
  const [us, setUs] = useState(localStorage.getItem("resistors") === "us");
  const [electrons, setElectrons] = useState(localStorage.getItem("current") === "electrons");
  useLayoutEffect(() => {
    document.documentElement.dataset.mode = mode;
  }, [mode]);
  const value = useMemo<Preferences>(
    () => ({
      mode,
      us,
      electrons,
      toggleElectrons: () => {
        localStorage.setItem("current", electrons ? "convention" : "electrons");
        setElectrons(!electrons);
      },
      toggleMode: () => {
        const next = mode === "light" ? "dark" : "light";
        localStorage.setItem("mode", next);
        setMode(next);
      },
      toggleUs: () => {
        localStorage.setItem("resistors", us ? "iec" : "us");
        setUs(!us);
      },
    }),
    [mode, us, electrons],
  );
  return (
    <Context.Provider value={value}>
      <ThemeProvider theme={themeFor(mode)}>
        <CssBaseline />
        {children}
      </ThemeProvider>
    </Context.Provider>
  );
}
