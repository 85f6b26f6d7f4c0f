import { createTheme } from "@mui/material/styles";

/** Strictly neutral greys around the picture; brass for selection and now, verdigris for what moves. */
export const tone = {
  ground: "#121212",
  panel: "#1b1b1b",
  raised: "#242424",
  field: "#2b2b2b",
  line: "#343434",
  strong: "#4a4a4a",
  faint: "#9b9b9b",
  text: "#e9e7e2",
  brass: "#d0a85c",
  verdigris: "#62b5a0",
  fault: "#ff6b5e",
} as const;

export const sans = '"Hanken Grotesk Variable", "Helvetica Neue", sans-serif';
export const mono = '"Spline Sans Mono Variable", monospace';

export const theme = createTheme({
  palette: {
    mode: "dark",
    background: { default: tone.ground, paper: tone.panel },
    text: { primary: tone.text, secondary: tone.faint },
    primary: { main: tone.brass, dark: "#e2bd74", contrastText: "#17130a" },
    secondary: { main: tone.verdigris },
    error: { main: tone.fault },
    divider: tone.line,
  },
  typography: { fontFamily: sans, fontSize: 13, button: { textTransform: "none", fontWeight: 560 } },
  shape: { borderRadius: 4 },
  components: {
    MuiPaper: { styleOverrides: { root: { backgroundImage: "none" } } },
    MuiTooltip: {
      defaultProps: { enterDelay: 450, disableInteractive: true, describeChild: true },
      styleOverrides: {
        tooltip: {
          backgroundColor: "#000",
          color: tone.text,
          fontSize: 12,
          border: `1px solid ${tone.line}`,
          maxWidth: 280,
        },
      },
    },
    MuiButton: { defaultProps: { size: "small", disableElevation: true, disableRipple: true } },
    MuiIconButton: {
      defaultProps: { size: "small", disableRipple: true },
      styleOverrides: { root: { borderRadius: 4 } },
    },
    MuiMenuItem: { styleOverrides: { root: { fontSize: 13, minHeight: 30 } } },
    MuiTextField: { defaultProps: { size: "small", autoComplete: "off" } },
  },
});
