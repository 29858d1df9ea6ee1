// MUI themed with the tokens, so that its default look does not show through.
import { createTheme } from "@mui/material/styles";

const palettes = {
  light: {
    ink: "#14223a",
    paper: "#f5f0e6",
    sheet: "#fbf8f2",
    rule: "#d9d0bf",
    fails: "#a32635",
    fits: "#1b716b",
    copper: "#95430d",
    ink2: "#475369",
  },
  dark: {
    ink: "#efe8da",
    paper: "#121926",
    sheet: "#19222f",
    rule: "#2e394b",
    fails: "#f08380",
    fits: "#5fb9ae",
    copper: "#f0a670",
    ink2: "#b9bcc1",
  },
};

export function themeFor(mode: "light" | "dark") {
  const p = palettes[mode];
  return createTheme({
    palette: {
      mode,
      primary: { main: p.ink },
      secondary: { main: p.copper },
      error: { main: p.fails },
      success: { main: p.fits },
      background: { default: p.paper, paper: p.sheet },
      text: { primary: p.ink, secondary: p.ink2 },
      divider: p.rule,
    },
    shape: { borderRadius: 6 },
    typography: {
      fontFamily: "var(--words)",
      fontSize: 14.5,
      button: { textTransform: "none", fontWeight: 600 },
    },
    components: {
      MuiButtonBase: { defaultProps: { disableRipple: true } },
      MuiPaper: { styleOverrides: { root: { backgroundImage: "none" } } },
      MuiDialog: { styleOverrides: { paper: { borderRadius: 8, boxShadow: "var(--shadow)" } } },
      MuiPopover: { styleOverrides: { paper: { borderRadius: 8, boxShadow: "var(--shadow)" } } },
      MuiMenuItem: { styleOverrides: { root: { fontSize: 14.5 } } },
      MuiTooltip: {
        styleOverrides: { tooltip: { background: p.ink, color: p.paper, fontSize: 13, fontWeight: 600 } },
      },
      MuiSnackbarContent: { styleOverrides: { root: { background: p.ink, color: p.paper, fontSize: 14.5 } } },
    },
  });
}
