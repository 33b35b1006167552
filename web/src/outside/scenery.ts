/** What lies out of the window: where the eye is, and what it looks at. Feet from the middle of the place, heights on QNH. */
import { createContext } from "react";
import type { PlaceDocument, PlanAnswer } from "../api/types";
import type { Draft } from "../sortie/draft";

export interface Eye {
  pitch: number;
  bank: number;
  /** True, or from the direction of entry where the place has no line. */ heading: number;
  height: number;
  east: number;
  north: number;
}

export interface Scenery {
  groundFt: number;
  /** Where the line that is held runs, degrees true; null without one. */ line: number | null;
  /** From the line towards the sea, degrees true; null inland. */ sea: number | null;
  /** To the other shore; null where it is open. */ seaWidthNm: number | null;
  cloudBaseFt: number | null;
  visibilityNm: number;
  /** Where the sun is looked for: when, and where on the earth; null for a sun of late morning. */
  sun: { at: Date; latitude: number; longitude: number } | null;
}

/** Land, sun, no cloud: where nothing is known of place and day. */
export const SOMEWHERE: Scenery = {
  groundFt: 0,
  line: null,
  sea: null,
  seaWidthNm: null,
  cloudBaseFt: null,
  visibilityNm: 20,
  sun: null,
};

export const SceneryContext = createContext(SOMEWHERE);

const NM_PER_MILE = 0.869;

/** The place on this day; without a day, the place in good weather. */
export function sceneryOf(
  place: PlaceDocument,
  day?: Draft["plan"]["day"] | null,
  at?: Date | null,
): Scenery {
  const { latitude_deg: latitude, longitude_deg: longitude } = place;
  return {
    groundFt: place.elevation_ft,
    line: place.line_deg ?? null,
    sea: place.sea_deg ?? null,
    seaWidthNm: place.sea_width_nm ?? null,
    cloudBaseFt: day?.cloud_base_ft ?? null,
    visibilityNm: (day?.visibility_sm ?? SOMEWHERE.visibilityNm / NM_PER_MILE) * NM_PER_MILE,
    sun: at && latitude != null && longitude != null ? { at, latitude, longitude } : null,
  };
}

const RAD = Math.PI / 180,
  NM_FT = 6076;

/** Where a planned figure begins, and on which heading. */
export function gateOf({ drift }: PlanAnswer, figure: string): Gate {
  const [east = 0, north = 0] = drift.crossings.find((c) => c.figure === figure)?.start_nm ?? [];
  return { heading: drift.work_along.value, east: east * NM_FT, north: north * NM_FT };
}

/** Of a figure that is planned nowhere. */
export const NORTHWARD: Gate = { heading: 0, east: 0, north: 0 };

export interface Gate {
  heading: number;
  east: number;
  north: number;
}

/** Somewhere along a figure, as it is flown from its gate. */
export function eyeAlong(
  point: { pitch: number; bank: number; heading: number; height: number; along: number; across: number },
  gate: Gate,
): Eye {
  const [s, c] = [Math.sin(gate.heading * RAD), Math.cos(gate.heading * RAD)];
  const { pitch, bank, height, along, across } = point;
  return {
    pitch,
    bank,
    height,
    heading: point.heading + gate.heading,
    east: gate.east + along * s + across * c,
    north: gate.north + along * c - across * s,
  };
}
