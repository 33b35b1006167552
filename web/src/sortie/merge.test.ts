import { differs, merged } from "./merge";

const figure = (id: string, start: number, more: object = {}) => ({ id, start, ...more });
const base = {
  plan: { figures: [figure("a", 5000), figure("b", 4000)], day: { qnh: 1013, wind: 0 } },
  aircraft_id: 1,
  note: "",
};
const with_ = (over: object, plan: object = {}) => ({ ...base, plan: { ...base.plan, ...plan }, ...over });

describe("two who changed the same sortie", () => {
  it("keep what only one of them changed, of both", () => {
    const mine = with_({ note: "mine" }, { day: { qnh: 1001, wind: 0 } });
    const theirs = with_({ aircraft_id: 2 }, { day: { qnh: 1013, wind: 20 } });
    expect(merged(base, mine, theirs)).toEqual({
      result: with_({ note: "mine", aircraft_id: 2 }, { day: { qnh: 1001, wind: 20 } }),
      clashes: [],
    });
  });
  it("are asked only for what both changed, field by field, and the choice counts", () => {
    const mine = with_({ note: "mine" }, { figures: [figure("a", 5200), figure("b", 4100)] });
    const theirs = with_({}, { figures: [figure("a", 5400), figure("b", 4000, { side: "left" })] });
    const found = merged(base, mine, theirs);
    expect(found.clashes).toEqual([{ where: "plan.figures[a].start", mine: 5200, theirs: 5400 }]);
    const chosen = merged(base, mine, theirs, () => "theirs").result;
    expect(chosen.plan.figures).toEqual([figure("a", 5400), { id: "b", start: 4100, side: "left" }]);
    expect(chosen.note).toBe("mine");
    expect(found.result.plan.figures[0]).toEqual(figure("a", 5200));
  });
  it("agree where both changed the same to the same", () => {
    const both = with_({ note: "same" });
    expect(merged(base, both, structuredClone(both)).clashes).toEqual([]);
  });
  it("each add an entry, and both stay where they were put", () => {
    const mine = with_({}, { figures: [figure("a", 5000), figure("m", 1), figure("b", 4000)] });
    const theirs = with_({}, { figures: [figure("a", 5000), figure("b", 4000), figure("t", 2)] });
    const { result, clashes } = merged(base, mine, theirs);
    expect(clashes).toEqual([]);
    expect(result.plan.figures.map((f) => f.id)).toEqual(["a", "m", "b", "t"]);
  });
  it("take out an entry that the other left alone, and are asked where the other changed it", () => {
    const without = with_({}, { figures: [figure("b", 4000)] });
    expect(merged(base, without, with_({ note: "x" })).result.plan.figures).toEqual([figure("b", 4000)]);
    const changed = with_({}, { figures: [figure("a", 5500), figure("b", 4000)] });
    expect(merged(base, without, changed).clashes.map((c) => c.where)).toEqual(["plan.figures[a]"]);
    expect(merged(base, without, changed, () => "theirs").result.plan.figures[0]).toEqual(figure("a", 5500));
  });
  it("are asked for the order only where both turned it round", () => {
    const three = with_({}, { figures: [figure("a", 1), figure("b", 2), figure("c", 3)] });
    const order = (...ids: string[]) =>
      with_({}, { figures: ids.map((id) => three.plan.figures.find((f) => f.id === id)!) });
    expect(merged(three, order("b", "a", "c"), three).result).toEqual(order("b", "a", "c"));
    const found = merged(three, order("b", "a", "c"), order("a", "c", "b"));
    expect(found.clashes.map((c) => c.where)).toEqual(["plan.figures.order"]);
  });
});

it("a place of the sheets is found as the server writes it", () => {
  const other = with_({ aircraft_id: 2 }, { figures: [figure("b", 4000), figure("a", 5100)] });
  expect(differs(base, other, "plan.figures[a].start")).toBe(true);
  expect(differs(base, other, "plan.figures[b].start")).toBe(false);
  expect(differs(base, other, "plan.figures.order")).toBe(true);
  expect(differs(base, other, "aircraft")).toBe(true);
  expect(differs(base, other, "plan.day.qnh")).toBe(false);
});
