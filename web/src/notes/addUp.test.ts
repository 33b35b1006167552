import { readFileSync } from "node:fs";
import type { Attempt, Entry } from "../api/types";
import { planned } from "../fixtures";
import { addUp } from "./addUp";
import { entriesFor, lastGo, nameOfGo, nextGo } from "./entry";

interface Case {
  entries: Entry[];
  attempts: Attempt[];
}
const cases = JSON.parse(readFileSync("../tests/said/core/adding_up.json", "utf8")) as Case[];
/** The core tells a figure's faults in the figure's order, which a page without it does not know. */
const inOneOrder = (attempts: Attempt[]) => attempts.map((a) => ({ ...a, faults: [...a.faults].sort() }));

describe("what entries add up to", () => {
  it("is what the core adds up", () => {
    expect(cases.length).toBeGreaterThan(30);
    for (const { entries, attempts } of cases)
      expect(inOneOrder(addUp(entries))).toEqual(inOneOrder(attempts));
  });
  it("does not depend on their order, nor on how often they came", () => {
    for (const { entries, attempts } of cases)
      expect(inOneOrder(addUp([...entries, ...entries].reverse()))).toEqual(inOneOrder(attempts));
  });
});

describe("noting", () => {
  const f1 = { id: "f1", planned: planned("f1") };
  it("says the figure once, and replaces what stood there", () => {
    const first = entriesFor([], f1, { start_ft: 5000 });
    expect(first.map((e) => e.what)).toEqual(["figure", "start_ft"]);
    const again = entriesFor(first, f1, { start_ft: 5100, fault: { soft_pull: true } });
    expect(again.map((e) => [e.what, e.about, e.value])).toEqual([
      ["start_ft", "", 5100],
      ["fault", "soft_pull", true],
    ]);
    expect(again[0]?.replaces).toEqual([first[1]?.id]);
    expect(addUp([...again, ...first])[0]).toMatchObject({ start_ft: 5100, faults: ["soft_pull"] });
  });
  it("takes back", () => {
    const first = entriesFor([], f1, { start_ft: 5000, feel: 7 });
    const back = entriesFor(first, f1, { feel: null });
    expect(addUp([...first, ...back])[0]).toMatchObject({ start_ft: 5000, feel: null });
  });
  it("leaves what the recorder said to the recorder", () => {
    const box = entriesFor([], f1, { lowest_ft: 3580 }, "recorder");
    const hand = entriesFor(box, f1, { lowest_ft: 3600 });
    expect(hand[0]?.replaces).toEqual([]);
    const [attempt] = addUp([...box, ...hand]);
    expect(attempt?.lowest_ft).toBe(3600);
    expect(attempt?.otherwise).toMatchObject([{ value: 3580, recorder: true }]);
  });
  it("says the figure anew where it is flown to the other side", () => {
    const first = entriesFor([], f1, { start_ft: 5000 });
    const other = { ...f1, planned: { ...f1.planned, side: "right" as const } };
    const mirrored = entriesFor(first, other, { feel: 7 });
    expect(addUp([...first, ...mirrored])[0]?.planned.side).toBe("right");
  });
  it("gives every go the name that another device gives it", () => {
    const one = addUp(entriesFor([], f1, { feel: 7 }));
    expect([nameOfGo(f1.planned, 1), nameOfGo(f1.planned, 2)]).toEqual(["f1", "f1.2"]);
    expect(lastGo([], f1.planned).id).toBe("f1");
    expect(lastGo(one, f1.planned).id).toBe("f1");
    expect(nextGo(one, f1.planned).id).toBe("f1.2");
  });
});
