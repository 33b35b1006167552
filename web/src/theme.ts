/** The look, in one place. `schemes` holds the colours by scheme; components ask for a token, never for a colour. */
import { createTheme } from "@mui/material/styles";

export interface Tokens {
  paper: string;
  sheet: string;
  ink: string;
  slate: string;
  hairline: string;
  sky: string;
  plan: string;
  planPale: string;
  flown: string;
  best: string;
  mind: string;
  mindPale: string;
  mindInk: string;
  stop: string;
  stopPale: string;
  fine: string;
  earth: string;
  /** Out of the window and from above. */
  air: string;
  land: string;
  furrow: string;
  cowl: string;
  field: string;
  fieldInk: string;
  /** The map of entry speeds. */
  finePale: string;
  hardPale: string;
  flownPale: string;
}

export const schemes: Record<"light", Tokens> = {
  light: {
    paper: "#EBF0F2",
    sheet: "#FFFFFF",
    ink: "#0F1D26",
    slate: "#51636E",
    hairline: "#CBD6DB",
    sky: "#F6FBFD",
    plan: "#0B4F6C",
    planPale: "#C3D4DC",
    flown: "#6A3B8F",
    best: "#3E7350",
    mind: "#B47A12",
    mindPale: "#FBEFD3",
    mindInk: "#7A5208",
    stop: "#C23B1E",
    stopPale: "#F8E4DD",
    fine: "#3E7350",
    earth: "#D9D2BE",
    air: "#CFE4EE",
    land: "#B9BE93",
    furrow: "#8F9670",
    cowl: "#39464E",
    field: "#9DB184",
    fieldInk: "#3F5129",
    finePale: "#DCEBDD",
    hardPale: "#E7EAEC",
    flownPale: "#E4DCEC",
  },
};
export const tokens = schemes.light;

export const family = "'Archivo Variable', sans-serif";
/** Figures and labels are set a little narrower than words. */
export const narrow = { fontStretch: "85%", fontVariantNumeric: "tabular-nums" } as const;

export const theme = createTheme({
  palette: {
    primary: { main: tokens.plan },
    secondary: { main: tokens.flown },
    error: { main: tokens.stop },
    warning: { main: tokens.mind },
    success: { main: tokens.fine },
    background: { default: tokens.paper, paper: tokens.sheet },
    text: { primary: tokens.ink, secondary: tokens.slate },
    divider: tokens.hairline,
  },
  typography: {
    fontFamily: family,
    fontSize: 14,
    button: { textTransform: "none", fontWeight: 650 },
    h1: { fontSize: 26, fontWeight: 760, letterSpacing: "-0.01em" },
    h2: { fontSize: 14, fontWeight: 680, color: tokens.slate },
    h3: { fontSize: 14, fontWeight: 680 },
    body1: { fontSize: 14.5 },
    body2: { fontSize: 13.5 },
    caption: { fontSize: 12.5 },
  },
  shape: { borderRadius: 4 },
  transitions: { create: () => "none" },
  components: {
    MuiCssBaseline: {
      styleOverrides: {
        body: { fontVariantNumeric: "tabular-nums", backgroundColor: tokens.paper },
        ":focus-visible": { outline: `3px solid ${tokens.plan}`, outlineOffset: 2 },
      },
    },
    MuiButtonBase: {
      defaultProps: { disableRipple: true },
      styleOverrides: { root: { fontFamily: "inherit" } },
    },
    MuiButton: { defaultProps: { disableElevation: true }, styleOverrides: { root: { minHeight: 44 } } },
    MuiIconButton: { styleOverrides: { root: { minWidth: 44, minHeight: 44 } } },
    MuiToggleButton: {
      styleOverrides: {
        root: {
          textTransform: "none",
          fontWeight: 620,
          minHeight: 44,
          color: tokens.ink,
          "&.Mui-selected, &.Mui-selected:hover": { backgroundColor: tokens.plan, color: "#fff" },
        },
      },
    },
    MuiPaper: { defaultProps: { elevation: 0 }, styleOverrides: { root: { backgroundImage: "none" } } },
    MuiTextField: { defaultProps: { size: "small" } },
    MuiSelect: { defaultProps: { size: "small" } },
    MuiTableCell: {
      styleOverrides: {
        root: { borderColor: tokens.hairline, padding: "7px 10px" },
        head: { color: tokens.slate, fontWeight: 650 },
      },
    },
  },
});

/** Read only by screen readers: the text behind a picture. */
export const unseen = {
  position: "absolute",
  width: "1px",
  height: "1px",
  overflow: "hidden",
  clipPath: "inset(50%)",
  whiteSpace: "nowrap",
} as const;
