import { attempt, figureAnswer, planned } from "../../fixtures";
import type { Mark } from "../../device/recorder";
import { entriesFor, type Edits, type Go } from "../../notes/entry";
import { addUp } from "../../notes/addUp";
import type { Entry } from "../../api/types";
import { crossedBy } from "./lines";
import type { FlyFigure, Line } from "./figures";
import { editsOf, goThatBegins, isRecorders } from "./recorded";
import { otherSetting } from "./useRecorder";

const figures = ["f1", "f2"].map((id) => ({
  planned: planned(id),
  title: id,
  otherSide: null,
  answer: figureAnswer(id),
  faults: [],
  outcomes: [],
  lines: [],
})) as FlyFigure[];
const f1: Go = { id: "f1", planned: planned("f1") };
const mark = (kind: Mark["kind"], value: number): Mark => ({ kind, value, time_s: 1, figure: 1 });
function noted(...said: [Edits, "hand" | "recorder"][]): Entry[] {
  return said.reduce<Entry[]>(
    (there, [edits, source]) => [...there, ...entriesFor(there, f1, edits, source)],
    [],
  );
}

describe("What the recorder found", () => {
  it("fills the heights to ten feet and g to a tenth, to the side of the line", () => {
    expect(editsOf(mark("begins", 5004.9))).toEqual({ start_ft: 5000 });
    expect(editsOf(mark("lowest", 2999))).toEqual({ lowest_ft: 2990 });
    expect(editsOf(mark("lowest", 3000))).toEqual({ lowest_ft: 3000 });
    expect(editsOf(mark("level", 4309))).toEqual({ level_ft: 4300 });
    expect(editsOf(mark("recovers", 4559))).toEqual({ recover_ft: 4550 });
    expect(editsOf(mark("most g", 6.01))).toEqual({ most_g: 6.1 });
    expect(editsOf(mark("most g", 1.1))).toEqual({ most_g: 1.1 });
    expect(editsOf(mark("turns", 1.04))).toEqual({ turns: 1 });
    expect(editsOf(mark("fastest", 130))).toEqual({ fastest_ias: 130 });
    expect(editsOf(mark("fastest", 172.1))).toEqual({ fastest_ias: 173 });
    expect(editsOf(mark("most g while rolling", 4.01))).toEqual({ rolling_g: 4.1 });
  });
  it("belongs to the figure that is looked at until somebody confirms it, then to the next", () => {
    const heard = noted([{ start_ft: 5000, lowest_ft: 4900 }, "recorder"]);
    expect(goThatBegins(figures, f1, addUp(heard), heard).id).toBe("f1");
    const felt = noted([{ start_ft: 5000, lowest_ft: 4900 }, "recorder"], [{ feel: 8 }, "hand"]);
    expect(goThatBegins(figures, f1, addUp(felt), felt).id).toBe("f2");
    const byHand = noted([{ lowest_ft: 4900 }, "hand"]);
    expect(goThatBegins(figures, f1, addUp(byHand), byHand).id).toBe("f2");
    const both = [...addUp(felt), attempt(planned("f2"), { id: "f2" })];
    expect(goThatBegins(figures, f1, both, felt).id).toBe("f1.2");
  });
  it("is seen as the recorder's until a hand has noted the same place, which counts", () => {
    const heard = noted([{ lowest_ft: 4270 }, "recorder"]);
    expect(isRecorders(heard, addUp(heard)[0] ?? null, "lowest_ft")).toBe(true);
    const taken = noted([{ lowest_ft: 4270 }, "recorder"], [{ lowest_ft: 4300 }, "hand"]);
    const [made] = addUp(taken);
    expect(isRecorders(taken, made ?? null, "lowest_ft")).toBe(false);
    expect(made).toMatchObject({ lowest_ft: 4300, otherwise: [{ value: 4270, recorder: true }] });
    const late = noted([{ lowest_ft: 4300 }, "hand"], [{ lowest_ft: 4270 }, "recorder"]);
    expect(addUp(late)[0]).toMatchObject({ lowest_ft: 4300, otherwise: [{ value: 4270 }] });
  });
  it("crosses the lines of top speed and of g while rolling", () => {
    const line = (of: Line["of"], value: number) =>
      ({ of, side: "above", kind: of, limit: { value } }) as unknown as Line;
    const figure = { ...figures[0]!, lines: [line("ias", 172), line("rolling_g", 4)] };
    const crossed = (over: { fastest_ias?: number; rolling_g?: number }) =>
      crossedBy(figure, attempt(planned("f1"), over), null, null).map((c) => c.line.of);
    expect(crossed({ fastest_ias: 172, rolling_g: 4 })).toEqual([]);
    expect(crossed({ fastest_ias: 173 })).toEqual(["ias"]);
    expect(crossed({ rolling_g: 4.1 })).toEqual(["rolling_g"]);
  });
  it("is not taken where the box is set to another QNH or unit than the plan", () => {
    const plan = { qnh_hpa: 1003.25, speed_unit: "kt" };
    expect(otherSetting({ qnh_hpa: 1003, speed_unit: "kt" }, plan)).toBeNull();
    expect(otherSetting({ qnh_hpa: 1003.75, speed_unit: "kt" }, plan)).toBeNull();
    for (const off of [1003.8, 1002.7])
      expect(otherSetting({ qnh_hpa: off, speed_unit: "kt" }, plan)).toBe("other QNH");
    expect(otherSetting({ qnh_hpa: 1003, speed_unit: "kt" }, { ...plan, qnh_hpa: null })).toBe("other QNH");
    expect(otherSetting({ qnh_hpa: 1003, speed_unit: "mph" }, plan)).toBe("other unit");
  });
});
