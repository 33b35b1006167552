/** The look, in one place. `schemes` holds the colours by scheme; components ask for a token, never for a colour: a token
 * is a variable of the page, which has the colours of the scheme that the system asks for. */
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
  /** How bright the day out of the window is. */
  outside: string;
  field: string;
  fieldInk: string;
  /** The map of entry speeds. */
  finePale: string;
  hardPale: string;
  flownPale: string;
  /** Words on the plan colour. */
  onPlan: string;
}

export const schemes: Record<"light" | "dark" | "sun", Tokens> = {
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
    outside: "1",
    field: "#9DB184",
    fieldInk: "#3F5129",
    finePale: "#DCEBDD",
    hardPale: "#E7EAEC",
    flownPale: "#E4DCEC",
    onPlan: "#FFFFFF",
  },
  dark: {
    paper: "#0F1A20",
    sheet: "#16252D",
    ink: "#E6EEF2",
    slate: "#A3B5BF",
    hairline: "#2F434E",
    sky: "#12222B",
    plan: "#74BCDD",
    planPale: "#27495C",
    flown: "#BE9DE0",
    best: "#84C39B",
    mind: "#E0A63A",
    mindPale: "#3A2F16",
    mindInk: "#EBC06C",
    stop: "#F58468",
    stopPale: "#42231C",
    fine: "#84C39B",
    earth: "#4A4638",
    air: "#27455A",
    land: "#4C5236",
    furrow: "#6A7350",
    cowl: "#0B1419",
    outside: "0.7",
    field: "#5C7350",
    fieldInk: "#BFD0A0",
    finePale: "#1F3A2A",
    hardPale: "#24323A",
    flownPale: "#33264A",
    onPlan: "#0B1A22",
  },
  // Black on white: what is read in the sun.
  sun: {
    paper: "#FFFFFF",
    sheet: "#FFFFFF",
    ink: "#000000",
    slate: "#2B2B2B",
    hairline: "#7A7A7A",
    sky: "#FFFFFF",
    plan: "#00354D",
    planPale: "#C9DCE6",
    flown: "#4B1178",
    best: "#14512A",
    mind: "#7A4A00",
    mindPale: "#FFF0C2",
    mindInk: "#5A3600",
    stop: "#A31800",
    stopPale: "#FFDDD4",
    fine: "#14512A",
    earth: "#CFC6AC",
    air: "#DDEFF8",
    land: "#B9BE93",
    furrow: "#6D744E",
    cowl: "#1B2429",
    outside: "1",
    field: "#9DB184",
    fieldInk: "#26360F",
    finePale: "#CFE8D2",
    hardPale: "#E2E5E7",
    flownPale: "#DCCBEA",
    onPlan: "#FFFFFF",
  },
};

const variable = (name: string) => `--kt-${name}`;
/** The colours of a scheme as variables of the page. */
export function variables(scheme: keyof typeof schemes): Record<string, string> {
  return {
    ...Object.fromEntries(Object.entries(schemes[scheme]).map(([name, colour]) => [variable(name), colour])),
    // In the sun lines are heavier.
    "--kt-heavy": scheme === "sun" ? "1.6" : "1",
  };
}
export const tokens = Object.fromEntries(
  Object.keys(schemes.light).map((name) => [name, `var(${variable(name)})`]),
) as unknown as Tokens;

export const family = "'Archivo Variable', sans-serif";
/** Figures and labels are set a little narrower than words. */
export const narrow = { fontStretch: "85%", fontVariantNumeric: "tabular-nums" } as const;

/** Below these widths, the component library's own, a screen is one column, and a phone. */
export const ONE_COLUMN = "(max-width: 899.95px)",
  PHONE = "(max-width: 599.95px)";
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
