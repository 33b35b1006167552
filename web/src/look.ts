/** The component library in our colours, sizes and signs. */
import { createTheme } from "@mui/material/styles";
import { createElement, Fragment } from "react";
import { family, tokens, TOUCH, variables } from "./theme";
import { VerdictMark } from "./verdict/VerdictMark";

/** Between what is read and what it stands on: the edge of a field, what cannot be pressed now. */
const PALE = `color-mix(in srgb, ${tokens.slate} 60%, ${tokens.sheet})`;

export const theme = createTheme({
  cssVariables: { nativeColor: true },
  palette: {
    primary: { main: tokens.plan, contrastText: tokens.onPlan },
    secondary: { main: tokens.flown, contrastText: tokens.sheet },
    error: { main: tokens.stop, contrastText: tokens.sheet },
    warning: { main: tokens.mind, contrastText: tokens.ink },
    success: { main: tokens.fine, contrastText: tokens.sheet },
    action: { active: tokens.slate, disabled: PALE, disabledBackground: tokens.hairline },
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
        ":root": { colorScheme: "light dark", ...variables("light") },
        // For night and for the cockpit at dusk; paper is white at any hour.
        "@media screen and (prefers-color-scheme: dark)": { ":root:not([data-light])": variables("dark") },
        "@media screen": {
          ':root[data-light="dusk"]': { colorScheme: "dark", ...variables("dark") },
          ':root[data-light="day"]': { colorScheme: "light" },
          ':root[data-light="sun"]': { colorScheme: "light", ...variables("sun") },
          ':root[data-light="sun"] body': { fontWeight: 560 },
        },
        body: { fontVariantNumeric: "tabular-nums", backgroundColor: tokens.paper },
        // On paper: what is read, without what is pressed, and nothing hidden in a pane.
        "@media print": {
          "button:not([data-why]):not([data-print]), nav, input[type=file], .MuiTabs-root, .MuiAlert-action":
            {
              display: "none !important",
            },
          "main, main *": { overflow: "visible !important", maxHeight: "none !important" },
          "main, section, aside, li, tr": { breakInside: "avoid" },
        },
        // Seen on everything that can be focused, whatever a component says of its own outline.
        ":focus-visible": { outline: `3px solid ${tokens.plan} !important`, outlineOffset: "1px !important" },
        ".MuiInputBase-root:has(:focus-visible), label:has(> span > input:focus-visible)": {
          outline: `3px solid ${tokens.plan}`,
          outlineOffset: 1,
        },
        ".MuiSlider-thumb:has(:focus-visible)": { outline: `3px solid ${tokens.plan}`, outlineOffset: 2 },
        "input:focus-visible, textarea:focus-visible": { outline: "none !important" },
        // What the focus goes to so that it is read, and is no stop of its own.
        "[tabindex='-1']:focus-visible": { outline: "none !important" },
      },
    },
    MuiButtonBase: {
      defaultProps: { disableRipple: true },
      styleOverrides: {
        root: {
          fontFamily: "inherit",
          [TOUCH]: { "&:not([data-why])": { minHeight: "44px !important" } },
        },
      },
    },
    MuiOutlinedInput: { styleOverrides: { notchedOutline: { borderColor: PALE } } },
    // What a field is called is read through the ring around the focused one.
    MuiInputLabel: {
      styleOverrides: {
        outlined: {
          "&.Mui-focused.MuiInputLabel-shrink": { zIndex: 1, backgroundColor: tokens.sheet, borderRadius: 2 },
        },
      },
    },
    MuiInputBase: { styleOverrides: { root: { [TOUCH]: { minHeight: 44 } } } },
    MuiSelect: {
      defaultProps: { size: "small" },
      styleOverrides: {
        select: { [TOUCH]: { minHeight: "44px !important", boxSizing: "border-box", lineHeight: 1.75 } },
      },
    },
    MuiMenuItem: { styleOverrides: { root: { [TOUCH]: { minHeight: 44 } } } },
    MuiButton: { defaultProps: { disableElevation: true }, styleOverrides: { root: { minHeight: 44 } } },
    MuiIconButton: { styleOverrides: { root: { minWidth: 44, minHeight: 44 } } },
    MuiToggleButton: {
      styleOverrides: {
        root: {
          textTransform: "none",
          fontWeight: 620,
          minHeight: 44,
          color: tokens.ink,
          "&.Mui-selected, &.Mui-selected:hover": { backgroundColor: tokens.plan, color: tokens.onPlan },
        },
      },
    },
    MuiAlert: {
      // Our three signs, and no other; a note has none.
      defaultProps: {
        iconMapping: {
          error: createElement(VerdictMark, { verdict: "stop", size: 18 }),
          warning: createElement(VerdictMark, { verdict: "mind", size: 18 }),
          success: createElement(VerdictMark, { verdict: "fine", size: 18 }),
          info: createElement(Fragment),
        },
      },
      styleOverrides: {
        root: {
          color: tokens.ink,
          "& .MuiAlert-icon:empty": { display: "none" },
          "&.MuiAlert-colorError": { backgroundColor: tokens.stopPale },
          "&.MuiAlert-colorWarning": { backgroundColor: tokens.mindPale },
          "&.MuiAlert-colorSuccess": { backgroundColor: tokens.finePale },
          "&.MuiAlert-colorInfo": { backgroundColor: tokens.sky, border: `1px solid ${tokens.hairline}` },
        },
      },
    },
    MuiPaper: { defaultProps: { elevation: 0 }, styleOverrides: { root: { backgroundImage: "none" } } },
    MuiTextField: { defaultProps: { size: "small" } },
    MuiTableCell: {
      styleOverrides: {
        root: { borderColor: tokens.hairline, padding: "7px 10px" },
        head: { color: tokens.slate, fontWeight: 650 },
      },
    },
  },
});
