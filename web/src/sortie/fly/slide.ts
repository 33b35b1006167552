/** A slide of the thumb: so many pixels a notch, and a bigger notch for a thumb in a hurry. Pure. */
import { FAST_NOTCH_FT, NOTCH_FT } from "./steps";

export const PX_A_NOTCH = 14,
  FAST_PX_A_MS = 1.1;

export interface Slide {
  /** The height under the thumb. */ ft: number;
  /** Pixels up that have not made a notch yet. */ rest: number;
  /** Whether it has moved at all: a tap has not. */ moved: boolean;
}

/** up: pixels since the last move, upwards; ms: how long that took. */
export function slid(slide: Slide, up: number, ms: number): Slide {
  const rest = slide.rest + up;
  const notches = Math.trunc(rest / PX_A_NOTCH);
  if (notches === 0) return { ...slide, rest };
  const notch = Math.abs(up) / Math.max(1, ms) > FAST_PX_A_MS ? FAST_NOTCH_FT : NOTCH_FT;
  return {
    ft: Math.max(0, slide.ft + notches * notch),
    rest: rest - notches * PX_A_NOTCH,
    moved: true,
  };
}
