import { inOneLine, placeInWords } from "./api/client";
import { figureAnswer } from "./fixtures";
import { preset } from "./sortie/fly/noting";
import { newAttempt } from "./sortie/edits";
import { planned } from "./fixtures";
import { numberIn } from "./forms/NumberField";
import { sourceWords } from "./why/source";

describe("numbers that are typed", () => {
  it.each([
    ["4700", 4700],
    ["6,030", 6030],
    [" 29.92 ", 29.92],
    ["-5", -5],
    ["−5", -5],
    ["5.", 5],
  ])("%s is %d", (text, value) => expect(numberIn(text)).toBe(value));
  it.each(["", "abc", "5j", "1e9", "4,7", "--3", "NaN", "Infinity"])("'%s' is not a number", (text) =>
    expect(numberIn(text)).toBeNull(),
  );
});

describe("places in words", () => {
  it.each([
    ["plan.figures[3].start_ft", "figure 4, start (ft)"],
    ["load.fuel_usgal.Centre", "load, fuel (US gal), Centre"],
    ["plan.day.qnh_hpa", "day, qnh (hPa)"],
    ["figures[f1].start_ft", "figures[f1], start (ft)"],
  ])("%s", (where, words) => expect(placeInWords(where)).toBe(words));
  it("makes one sentence of a problem", () => {
    expect(inOneLine({ where: "plan.load.front_lb", what: "-5 is below 0", do: "Give 0 or more." })).toBe(
      "load, front (lb): -5 is below 0. Give 0 or more.",
    );
  });
});

describe("sources", () => {
  it("does not say flight manual twice", () => {
    expect(sourceWords({ source: "flight manual", ref: "manual 5.2" })).toBe("manual 5.2");
    expect(sourceWords({ kind: "school", words: "school standards" })).toBe("school standards");
    expect(sourceWords({ kind: "measured here", words: "timed" })).toBe("measured here: timed");
  });
});

describe("what Fly offers before a height is noted", () => {
  const figure = figureAnswer("f1", 5000);
  it("is the plan's", () => {
    expect(preset(figure, null, "start_ft")).toBe(5000);
    expect(preset(figure, null, "recover_ft")).toBe(4600);
    expect(preset(figure, null, "lowest_ft")).toBe(4000);
  });
  it("follows what was flown", () => {
    const attempt = { ...newAttempt(planned("f1"), []), start_ft: 5300, lowest_ft: 4100 };
    expect(preset(figure, attempt, "recover_ft")).toBe(4900);
    expect(preset(figure, attempt, "level_ft")).toBe(4100);
  });
});
