import type { PlanAnswer } from "../../api/types";
import { answer, attempt, figureAnswer, planAnswer, planned } from "../../fixtures";
import { entriesFor } from "../../notes/entry";
import { budgetOf, minutesBetween } from "./budget";
import { flyFigures, mirrored, titleOf, type FlyFigure, type Line } from "./figures";
import { beganAt, headedFor, soFar } from "./flown";
import { crossedBy, untold } from "./lines";
import { slid } from "./slide";
import { nextStep, preset, stepsOf } from "./steps";

const line = (kind: Line["kind"], of: Line["of"], side: Line["side"], limit: number): Line => ({
  kind,
  of,
  side,
  limit: answer(kind, limit),
  words: `Crossed ${kind}`,
  do: "Stop.",
});
const LINES: Line[] = [
  line("take-over height", "recover", "below", 3700),
  line("floor", "height", "below", 3000),
  line("g limit", "most_g", "above", 4.4),
  line("feel", "feel", "below", 5),
  line("feel", "feel_drop", "above", 3),
  line("fuel reserve", "minutes", "above", 40),
];
const then = (id: string, minutes: number, comfort: number) => ({ id, minutes, comfort });
const flight: NonNullable<PlanAnswer["flight"]> = {
  fuel_usgal: Array.from({ length: 181 }, (_, minute) => 20 - minute / 10),
  reserve_at_min: 40,
  light_ends: null,
  climb_min: [
    [0, 0],
    [1000, 1],
    [2000, 2.5],
    [3000, 4.5],
  ],
  lookout_min: 0.75,
  comfort_limit: 10,
  lines: LINES.slice(2),
  figures: [
    {
      id: "f1",
      other_side: "Spin f1, right",
      lines: LINES.slice(0, 2),
      then: [then("f1", 1, 4), then("f2", 6, 8), then("f3", 11, 12)],
    },
    { id: "f2", other_side: null, lines: LINES.slice(0, 2), then: [then("f2", 1, 4), then("f3", 6, 8)] },
    { id: "f3", other_side: null, lines: LINES.slice(0, 2), then: [then("f3", 1, 4)] },
  ],
};
const ids = ["f1", "f2", "f3"];
const plan: PlanAnswer = { ...planAnswer(ids.map((id) => figureAnswer(id, 5000))), flight };
const f1 = planned("f1");
const [figure] = flyFigures(
  ids.map((id) => planned(id)),
  plan,
  [],
  undefined,
) as [FlyFigure];

describe("what a key offers", () => {
  it("is the plan's own height, to 20 ft, from the start that was flown", () => {
    expect(preset(figure, null, "start_ft")).toBe(5000);
    expect(preset(figure, null, "recover_ft")).toBe(4600);
    expect(preset(figure, null, "lowest_ft")).toBe(4000);
    expect(preset(figure, attempt(f1, { start_ft: 5110 }), "lowest_ft")).toBe(4120);
    expect(preset(figure, attempt(f1, { start_ft: 400 }), "lowest_ft")).toBe(0);
  });
  it("is level where it was lowest, and taken over where the instructor does", () => {
    expect(preset(figure, attempt(f1, { lowest_ft: 3870 }), "level_ft")).toBe(3870);
    expect(preset(figure, null, "taken_over_ft")).toBe(3700);
  });
});

describe("the key that is next", () => {
  it("is the first that is not noted, in the order of use", () => {
    expect(nextStep(null)).toBe("start_ft");
    expect(nextStep(attempt(f1, { start_ft: 5000, lowest_ft: 4000 }))).toBe("recover_ft");
    const heights = { start_ft: 5000, recover_ft: 4600, lowest_ft: 4000, level_ft: 4020 };
    expect(nextStep(attempt(f1, heights))).toBe("feel");
    expect(nextStep(attempt(f1, { ...heights, feel: 0 }))).toBe("went");
  });
  it("has a take-over where there was one", () => {
    expect(stepsOf(null)).not.toContain("taken_over_ft");
    expect(stepsOf(attempt(f1, { taken_over_ft: 3700 }))[1]).toBe("taken_over_ft");
  });
});

describe("a slide of the thumb", () => {
  const start = { ft: 4000, rest: 0, moved: false };
  it("is a notch every so many pixels, up and down", () => {
    expect(slid(start, 13, 100)).toEqual({ ft: 4000, rest: 13, moved: false });
    expect(slid(slid(start, 13, 100), 1, 100)).toMatchObject({ ft: 4020, rest: 0, moved: true });
    expect(slid(start, -28, 100).ft).toBe(3960);
  });
  it("is a bigger notch for a thumb in a hurry, and never below nothing", () => {
    expect(slid(start, 28, 10).ft).toBe(4200);
    expect(slid({ ...start, ft: 60 }, -140, 20).ft).toBe(0);
  });
});

describe("figures in the air", () => {
  it("are those of the plan, then what was flown besides", () => {
    const beside = attempt(planned("x1", { key: "loop" }), { start_ft: 5000 });
    const found = flyFigures([f1], plan, [beside], {
      flown_by: [],
      earned: {},
      standings: [],
      needed: [],
      figures: [
        {
          key: "loop",
          name: "Loop",
          family: "looping",
          purpose: "",
          has_sides: false,
          faults: [{ key: "hard", words: "Pulled hard", does: "", assumed: "", blocks: null }],
          outcomes: ["as intended"],
          parameters: [],
          schools: [],
        },
      ],
    });
    expect(found.map((f) => [f.planned.id, f.title, f.faults.length])).toEqual([
      ["f1", "Spin f1", 0],
      ["x1", "Loop", 1],
    ]);
    expect(found[1]?.lines.filter((l) => l.of === "height").map((l) => l.limit.value)).toEqual([3000]);
  });
  it("are called by the side that is flown", () => {
    expect(titleOf(figure, f1)).toBe("Spin f1");
    expect(titleOf(figure, mirrored(f1))).toBe("Spin f1, right");
  });
});

describe("lines", () => {
  const crossed = (
    over: Parameters<typeof attempt>[1],
    before: number | null = null,
    minutes: number | null = null,
  ) => crossedBy(figure, attempt(f1, over), before, minutes).map((c) => [c.line.kind, c.value]);
  it("are crossed beyond them, not on them", () => {
    expect(crossed({ recover_ft: 3700, lowest_ft: 3000, most_g: 4.4, feel: 5 }, 8, 40)).toEqual([]);
    expect(crossed({ recover_ft: 3690 })).toEqual([["take-over height", 3690]]);
    expect(crossed({ most_g: 4.5 })).toEqual([["g limit", 4.5]]);
    expect(crossed({ feel: 4 })).toEqual([["feel", 4]]);
    expect(crossed({ feel: 5 }, 9)).toEqual([["feel", 4]]);
    expect(crossed({}, null, 40.1)).toEqual([["fuel reserve", 40.1]]);
  });
  it("say the graver of two, and do not tell to take over who has", () => {
    expect(crossed({ recover_ft: 3500, lowest_ft: 2980 })).toEqual([["floor", 2980]]);
    expect(crossed({ recover_ft: 3500, taken_over_ft: 3600 })).toEqual([]);
    expect(crossed({ lowest_ft: 3900, level_ft: 2900 })).toEqual([["floor", 2900]]);
  });
  it("are told once", () => {
    const low = attempt(f1, { lowest_ft: 2980, stops: [{ kind: "floor", value: 2980 }] });
    expect(untold(crossedBy(figure, low, null, null), low)).toEqual([]);
    expect(untold(crossedBy(figure, low, null, null), null)).toHaveLength(1);
  });
});

describe("the budget", () => {
  const began = "2026-05-14T10:00:00Z";
  const at = (minutes: number) => Date.parse(began) + minutes * 60000;
  const budget = (
    minutes: number,
    attempts = [] as ReturnType<typeof attempt>[],
    next = "f1",
    light: string | null = null,
  ) => budgetOf({ ...plan, flight: { ...flight, light_ends: light } }, attempts, next, began, at(minutes));
  it("looks climbs up between the heights of the table", () => {
    expect(minutesBetween(flight, 500, 1500)).toBeCloseTo(1.25);
    expect(minutesBetween(flight, 2000, 1000)).toBe(0);
    expect(minutesBetween(flight, 2500, 9000)).toBeCloseTo(1);
    expect(minutesBetween(flight, -50, 1000)).toBeCloseTo(1);
  });
  it("counts minutes and fuel from the first gate, and none before it or on another day", () => {
    expect(budget(11.9)).toMatchObject({ minutes: 11.9, fuel: 20 - 11 / 10, spent: false });
    expect(budget(40)?.spent).toBe(true);
    expect(budgetOf(plan, [], "f1", null, at(0))).toMatchObject({ minutes: null, fuel: 20 });
    expect(budget(500)?.minutes).toBeNull();
  });
  it("says how many more fit, and what ends them", () => {
    const easy = { ...plan, flight: { ...flight, comfort_limit: 99 } };
    expect(budgetOf(easy, [], "f1", began, at(0))).toMatchObject({ fit: 3, until: "plan" });
    expect(budget(0)).toMatchObject({ fit: 2, until: "comfort" });
    expect(budgetOf(easy, [], "f1", began, at(34))).toMatchObject({ fit: 2, until: "fuel" });
    expect(budget(0, [], "f1", "2026-05-14T10:05:00Z")).toMatchObject({ fit: 1, until: "daylight" });
  });
  it("counts the climb to the gate and the lookout before it", () => {
    const low = [attempt(planned("f3"), { start_ft: 4000, lowest_ft: 1000, level_ft: 1000 })];
    const found = budget(0, low, "f1");
    expect(found).toMatchObject({ left_ft: -2000, climb_ft: 4000 });
    expect(found?.climb_min).toBeCloseTo(3.5);
    // f3 is flown: one of the two left fits before the comfort limit, with what f3 cost.
    expect(found).toMatchObject({ fit: 1, until: "comfort" });
  });
  it("begins with the first gate that was noted and not taken back", () => {
    const first = entriesFor([], { id: "f1", planned: f1 }, { start_ft: 5000 });
    const late = entriesFor([], { id: "f2", planned: planned("f2") }, { start_ft: 5000 });
    const timed = [...first.map((e) => ({ ...e, at: began, offset_s: 60 })), ...late];
    expect(beganAt(timed)).toBe("2026-05-14T10:01:00.000Z");
    expect(beganAt([])).toBeNull();
  });
  it("is for the gate of the figure after it, once one is flown or left out", () => {
    const all = ids.map((id) => ({ planned: planned(id) }));
    const to = (at: number, over?: Parameters<typeof attempt>[1]) =>
      headedFor(all, at, over ? attempt(f1, over) : null)?.planned.id;
    expect([to(0), to(0, { start_ft: 5000 })]).toEqual(["f1", "f1"]);
    expect([to(0, { lowest_ft: 4000 }), to(0, { skipped: true })]).toEqual(["f2", "f2"]);
    expect(to(2, { lowest_ft: 4000 })).toBe("f3");
  });
  it("tells the most g and the last number", () => {
    const flown = [attempt(f1, { most_g: 3, feel: 8 }), attempt(f1, { most_g: 2.5, feel: 6 }), attempt(f1)];
    expect(soFar(flown)).toEqual({ most_g: 3, feel: 6 });
    expect(soFar([])).toEqual({ most_g: null, feel: null });
  });
});
