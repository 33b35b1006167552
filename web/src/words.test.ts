import { inOneLine } from "./api/client";
import { outside, readNumber, written } from "./forms/numbers";
import { sourceWords } from "./why/source";

describe("numbers that are typed", () => {
  const value = (text: string) => {
    const read = readNumber(text);
    return "value" in read ? read.value : null;
  };
  it.each([
    ["4500", 4500],
    ["4,500", 4500],
    ["4 500", 4500],
    ["4\u202f500", 4500],
    ["4,500.5", 4500.5],
    ["4.500,5", 4500.5],
    ["4.500,00", 4500],
    ["1,234,567", 1234567],
    ["1.234.567", 1234567],
    ["1.5", 1.5],
    ["1,5", 1.5],
    ["0,125", 0.125],
    ["0.125", 0.125],
    ["1013,25", 1013.25],
    ["1013.250", 1013.25],
    [",5", 0.5],
    ["5.", 5],
    [" 29.92 ", 29.92],
    ["-5", -5],
    ["− 4 500", -4500],
    ["0", 0],
    ["-0", 0],
  ])("%s is %d", (text, number) => expect(value(text)).toBe(number));
  it.each([
    "",
    "abc",
    "5j",
    "1e9",
    "--3",
    "NaN",
    "Infinity",
    "4 50",
    "4,5,6",
    "1.2.3",
    "4, 500",
    "4 500 ft",
    "5-",
  ])("'%s' is not a number", (text) => expect(value(text)).toBeNull());
  it("is asked again where it could be either", () => {
    expect(readNumber("4.500")).toEqual({ problem: "'4.500' could be 4500 or 4.5: write one of them." });
    expect(readNumber("-3.500")).toHaveProperty("problem");
  });
  it.each([4500, 1.5, -3.25, 78.125, 4.5, 1013.25, 0.125, 0, 1234567.891])(
    "%d is read as it is written",
    (n) => expect(value(written(n))).toBe(n),
  );
  it.each([
    [4, { least: 10, most: 20 }, "4 is too little: give 10 to 20."],
    [21, { least: 10, most: 20 }, "21 is too much: give 10 to 20."],
    [-1, { least: 0 }, "−1 is too little: give 0 or more."],
    [30001, { most: 30000 }, "30,001 is too much: give 30,000 or less."],
    [10, { least: 10, most: 20 }, ""],
    [20, { least: 10, most: 20 }, ""],
    [1e9, {}, ""],
  ])("%d in %j: %s", (n, range, words) => expect(outside(n, range)).toBe(words));
});

it("a problem is one sentence with the field's own name", () => {
  const problem = {
    where: "plan.load.front_lb",
    place: "Load, First seat",
    what: "-5 is below 0",
    do: "Give 0 or more.",
  };
  expect(inOneLine(problem)).toBe("Load, First seat: -5 is below 0. Give 0 or more.");
});

describe("sources", () => {
  it("says that a source is missing", () => {
    expect(sourceWords({ source: "not given", ref: "" })).toBe("source not given");
    expect(sourceWords({ source: "not given", ref: "page 5" })).toBe("page 5");
  });
  it("does not say flight manual twice", () => {
    expect(sourceWords({ source: "flight manual", ref: "manual 5.2" })).toBe("manual 5.2");
    expect(sourceWords({ kind: "school", words: "school standards" })).toBe("school standards");
    expect(sourceWords({ kind: "measured here", words: "timed" })).toBe("measured here: timed");
  });
});
