import { getPosition } from "suncalc";
import type { Scenery } from "./scenery";

const RAD = Math.PI / 180;

/** Degrees: from true north, and above the horizon. The library counts from south, in radians. */
export function sunAt({ at, latitude, longitude }: NonNullable<Scenery["sun"]>) {
  const { azimuth, altitude } = getPosition(at, latitude, longitude);
  return { azimuth: azimuth / RAD + 180, altitude: altitude / RAD };
}
