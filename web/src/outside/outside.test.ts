import { describe, expect, it } from "vitest";
import { draftOf } from "../sortie/draft";
import { planAnswer, figureAnswer, sortie } from "../fixtures";
import { eyeAlong, gateOf, NORTHWARD, sceneryOf, SOMEWHERE } from "./scenery";
import { sunAt } from "./sun";

const place = {
  name: "Skarra Sound block",
  elevation_ft: 10,
  block_top_ft: 6500,
  latitude_deg: 58,
  longitude_deg: -9,
  line_deg: 215,
  sea_deg: 125,
  sea_width_nm: 1.1,
} as Parameters<typeof sceneryOf>[0];

describe("what is out of the window", () => {
  it("is the place on its day", () => {
    const day = { ...draftOf(sortie()).plan.day, cloud_base_ft: 5200, visibility_sm: 10 };
    const seen = sceneryOf(place, day, new Date("2026-05-14T12:00Z"));
    expect(seen).toMatchObject({ groundFt: 10, line: 215, sea: 125, seaWidthNm: 1.1, cloudBaseFt: 5200 });
    expect(seen.visibilityNm).toBeCloseTo(8.69, 2);
    expect(seen.sun).toEqual({ at: new Date("2026-05-14T12:00Z"), latitude: 58, longitude: -9 });
  });
  it("has no sun of its own where the place is not known on the earth, and no cloud on no day", () => {
    const seen = sceneryOf({ ...place, latitude_deg: null }, null, new Date());
    expect([seen.sun, seen.cloudBaseFt, seen.visibilityNm]).toEqual([null, null, SOMEWHERE.visibilityNm]);
  });
  it("is seen from where the figure has come to, on the heading it is flown on", () => {
    const point = { pitch: -40, bank: 10, heading: 20, height: 3900, along: 600, across: 100 };
    expect(eyeAlong(point, NORTHWARD)).toEqual({
      pitch: -40,
      bank: 10,
      heading: 20,
      height: 3900,
      east: 100,
      north: 600,
    });
    // Eastward: along is east, and to the right is south.
    const east = eyeAlong(point, { heading: 90, east: 1000, north: 2000 });
    expect(east.heading).toBe(110);
    expect(east.east).toBeCloseTo(1600, 6);
    expect(east.north).toBeCloseTo(1900, 6);
  });
  it("begins at the gate that the plan gives it", () => {
    const answer = planAnswer([figureAnswer("f1", 5000)]);
    const crossing = { figure: "f1", start_nm: [0.5, -1], end_nm: [0, 0], from_middle_nm: 0, outside: false };
    const gate = gateOf({ ...answer, drift: { ...answer.drift, crossings: [crossing] } }, "f1");
    expect([gate.east, gate.north]).toEqual([3038, -6076]);
    expect(gate.heading).toBe(answer.drift.work_along.value);
    expect(gateOf(answer, "another")).toMatchObject({ east: 0, north: 0 });
  });
});

describe("the sun", () => {
  // By declination: at local noon it stands in the south at 90° − latitude + declination (18.7° on 14 May),
  // and in the forenoon in the east.
  it("stands in the south at noon, in the east before", () => {
    const noon = sunAt({ at: new Date("2026-05-14T12:33Z"), latitude: 58, longitude: -9 });
    expect(noon.azimuth).toBeCloseTo(180, -0.5);
    expect(noon.altitude).toBeCloseTo(50.7, 0);
    const morning = sunAt({ at: new Date("2026-05-14T07:00Z"), latitude: 58, longitude: -9 });
    expect(morning.azimuth).toBeGreaterThan(70);
    expect(morning.azimuth).toBeLessThan(110);
  });
});
