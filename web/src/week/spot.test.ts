import { describe, expect, it } from "vitest";
import type { BookedSortie, Week } from "../api/types";
import { inZone } from "../frame/dates";
import { weekOf, booked } from "./fixtures";
import { awayIn, findings, hoursOf, inWords, longer, lost, shifted, spotOf, type Spot } from "./spot";

inZone("Europe/London");
beforeEach(() => inZone("Europe/London"));
const PETRA = booked({ id: 1, begins: "2026-09-09T09:30:00Z", ends: "2026-09-09T11:00:00Z" });
const JONAH = booked({
  id: 2,
  student: "Jonah",
  student_id: 8,
  student_person: 18,
  begins: "2026-09-09T13:00:00Z",
  ends: "2026-09-09T14:30:00Z",
});

function said(week: Week, who: BookedSortie, change: Partial<Spot> = {}) {
  return findings(week, who, { ...spotOf(week, who), ...change }).map((f) => `${f.verdict}: ${f.words}`);
}

describe("where a booking lies", () => {
  it("is the day of the school's zone, in minutes of it", () => {
    const week = weekOf([PETRA]);
    expect(spotOf(week, PETRA)).toEqual({ day: 2, from: 630, minutes: 90, aircraft: 5, instructor: 7 });
    expect(inWords(week, spotOf(week, PETRA))).toBe("Wed 9 Sept 10:30 to 12:00");
  });
  it("moves on the school's steps and stays in its day", () => {
    const week = weekOf([PETRA]);
    const spot = spotOf(week, PETRA);
    expect(shifted(week, spot, 637).from).toBe(630);
    expect(shifted(week, spot, 638).from).toBe(645);
    expect(shifted(week, spot, -40).from).toBe(0);
    expect(shifted(week, spot, 1500).from).toBe(1425);
  });
  it("is as long as the least and the most that can be booked", () => {
    const week = weekOf([PETRA]);
    const spot = spotOf(week, PETRA);
    expect(longer(week, spot, 3).minutes).toBe(15);
    expect(longer(week, spot, 100).minutes).toBe(105);
    expect(longer(week, spot, 2000).minutes).toBe(720);
  });
  it("widens the picture where it lies outside of the usual day", () => {
    expect(hoursOf(weekOf([PETRA]))).toEqual([7, 20]);
    const early = booked({ begins: "2026-09-09T04:15:00Z", ends: "2026-09-09T20:30:00Z" });
    expect(hoursOf(weekOf([early]))).toEqual([5, 22]);
  });
});

describe("when somebody is not to be had", () => {
  const away = (begins: string, ends: string) => {
    const week = weekOf([], { taken: [{ ...TAKEN, aircraft_id: 5, words: "Tyre", begins, ends }] });
    return awayIn(week, 2, "aircraft", 5, [7, 20]).map((a) => [a.from, a.to]);
  };
  it("is drawn as far as it lies in the day and in the hours drawn", () => {
    expect(away("2026-09-09T09:00:00Z", "2026-09-09T10:30:00Z")).toEqual([[600, 690]]);
    expect(away("2026-09-08T09:00:00Z", "2026-09-10T10:30:00Z")).toEqual([[420, 1200]]);
    expect(away("2026-09-09T18:00:00Z", "2026-09-09T22:00:00Z")).toEqual([[1140, 1200]]);
    expect(away("2026-09-09T19:00:00Z", "2026-09-09T22:00:00Z")).toEqual([]);
    expect(away("2026-09-09T03:00:00Z", "2026-09-09T06:00:00Z")).toEqual([]);
  });
});

describe("what a move takes away", () => {
  const week = weekOf([PETRA]);
  const was = spotOf(week, PETRA);
  it("is nothing of a planned one that stays on its day, in its aircraft, with its instructor", () => {
    expect(lost(PETRA, was, { ...was, from: 900, minutes: 120 })).toEqual([]);
  });
  it("is the weather, the load or the overrides of before", () => {
    expect(lost(PETRA, was, { ...was, day: 3 })).toEqual(["That day begins with its own weather."]);
    expect(lost(PETRA, was, { ...was, aircraft: 6 })[0]).toMatch(/own load/);
    expect(lost(PETRA, was, { ...was, instructor: 9 })[0]).toMatch(/own weight/);
  });
  it("is the brief where more than the length changes", () => {
    const briefed = { ...PETRA, stage: "briefed" as const };
    expect(lost(briefed, was, { ...was, minutes: 120 })).toEqual([]);
    expect(lost(briefed, was, { ...was, from: 900 })).toEqual(["It is briefed again."]);
  });
});

describe("what it would mean there", () => {
  it("is good news where nothing is against it", () => {
    expect(said(weekOf([PETRA]), PETRA)).toEqual([
      "fine: nobody else wants it",
      "fine: light from 06:56 to 20:13",
      "fine: all dates valid",
    ]);
  });
  it("names what is booked twice, until the other has ended", () => {
    const week = weekOf([PETRA, JONAH]);
    expect(said(week, PETRA, { from: 750 })[0]).toMatch(/^fine/);
    expect(said(week, PETRA, { from: 765 })).toEqual(["stop: QX-ROE and Tam booked 14:00 to 15:30"]);
    expect(said(week, PETRA, { from: 765, aircraft: 6 })).toEqual(["stop: Tam booked 14:00 to 15:30"]);
    expect(said(week, PETRA, { from: 765, aircraft: 6, instructor: 9 })[0]).toMatch(/^fine/);
  });
  it("asks nothing of what is cancelled or signed", () => {
    for (const gone of [{ cancelled: "wind" }, { stage: "signed" as const }])
      expect(said(weekOf([PETRA, { ...JONAH, ...gone }]), PETRA, { from: 840 })[0]).toMatch(/^fine/);
  });
  it("names who is not to be had", () => {
    const away = { begins: "2026-09-09T10:59:00Z", ends: "2026-09-09T12:00:00Z", words: "Tyre" };
    const of = (whose: object) => weekOf([PETRA], { taken: [{ ...TAKEN, ...away, ...whose }] });
    expect(said(of({ aircraft_id: 5 }), PETRA)).toEqual(["stop: QX-ROE not to be had: Tyre"]);
    expect(said(of({ aircraft_id: 5 }), PETRA, { from: 615 })[0]).toMatch(/^fine/);
    expect(said(of({ person_id: 17 }), PETRA)[0]).toMatch(/^stop/);
    expect(said(of({ person_id: 7 }), PETRA)[0]).toMatch(/^stop/);
    expect(said(of({ person_id: 5 }), PETRA)[0]).toMatch(/^fine/);
  });
  it("keeps it in the light, and says by when to be down", () => {
    const week = weekOf([PETRA]);
    expect(said(week, PETRA, { from: 415 })[0]).toBe("stop: before sunrise: light from 06:56 to 20:13");
    expect(said(week, PETRA, { from: 420 })[0]).toMatch(/^fine/);
    expect(said(week, PETRA, { from: 1083, minutes: 100 })[0]).toMatch(/^fine/);
    expect(said(week, PETRA, { from: 1084, minutes: 100 })[0]).toMatch(/^mind: down by 19:43/);
    expect(said(week, PETRA, { from: 1183 })[0]).toMatch(/^stop: too late/);
  });
  it("minds a date before it ends and stops after its last day", () => {
    const until = (last: string, more = {}) =>
      weekOf([PETRA], {
        until: [{ id: 7, date: { ...DATE, until: last, ...more } }],
      } as Partial<Week>);
    expect(said(until("2026-09-20"), PETRA)[0]).toMatch(/^fine/);
    expect(said(until("2026-09-19"), PETRA)).toEqual(["mind: Medical of Tam ends Sat 19 Sept"]);
    expect(said(until("2026-09-09"), PETRA)[0]).toMatch(/^mind: .* ends Wed 9 Sept/);
    expect(said(until("2026-09-08"), PETRA)).toEqual(["stop: Medical of Tam ended Tue 8 Sept"]);
    expect(said(until("2026-09-08", { stops: false }), PETRA)[0]).toMatch(/^mind/);
    expect(said(until("2026-09-08", { kind: "aircraft" }), PETRA)[0]).toMatch(/^fine/);
    expect(said(until("2026-09-08"), PETRA, { instructor: 9 })[0]).toMatch(/^fine/);
  });
  it("counts the days since the student flew", () => {
    const flew = (last_flew: string) => said(weekOf([PETRA]), { ...PETRA, last_flew });
    expect(flew("2026-08-26T18:00:00Z")[0]).toMatch(/^fine/);
    expect(flew("2026-08-25T18:00:00Z")).toEqual(["mind: Petra has not flown for 15 days by then"]);
  });
  it("says that a time has passed", () => {
    const week = weekOf([PETRA], { now: "2026-09-09T11:01:00Z" });
    expect(said(week, PETRA)).toEqual(["mind: this has passed"]);
  });
});

const TAKEN = {
  id: 1,
  person_id: null,
  aircraft_id: null,
  of: "QX-ROE",
  file: "",
  by: "Bo",
  may_remove: true,
};
const DATE = { kind: "person", of: "Tam", what: "Medical", until: "", warn_days: 10, stops: true };
