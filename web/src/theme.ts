/** The look, in one place. `schemes` holds the colours by scheme; components ask for a token, never for a colour. */
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

/** Where a finger points: nothing to press is smaller than it. */
export const TOUCH = "@media (pointer: coarse)";

/** Read only by screen readers: the text behind a picture. Fixed, so that nothing scrolls to it. */
export const unseen = {
  position: "fixed",
  top: 0,
  left: 0,
  width: "1px",
  height: "1px",
  overflow: "hidden",
  clipPath: "inset(50%)",
  whiteSpace: "nowrap",
} as const;
