import { figureAnswer, planAnswer } from "../fixtures";
import { heightAt, heights, LEFT, marks, notedStroke, placeAmong, RIGHT, slots, stroke } from "./layout";
import { attempt, planned } from "../fixtures";

const size = { width: 700, height: 400 };
const answer = planAnswer([
  figureAnswer("a"),
  figureAnswer("b", 5200, { starts_min: 8, ends_min: 8.2 }),
  figureAnswer("c", 6000, { starts_min: 14, ends_min: 14.2 }),
]);

describe("the height strip", () => {
  it("puts ground under floor under starts under the block top, and reads a pixel back as its height", () => {
    const up = heights(answer, [], size);
    const y = [0, 1900, 3000, 5000, 6500].map(up.y);
    expect([...y].sort((a, b) => b - a)).toEqual(y);
    expect(up.feet(up.y(4321))).toBeCloseTo(4321, 6);
  });
  it("makes room for what was flown above the block", () => {
    const high = attempt(planned("a"), { start_ft: 7400 });
    expect(heights(answer, [high], size).y(7400)).toBeGreaterThan(0);
  });
  it("keeps the number above the highest figure whole, however low it is", () => {
    const highest = (feet: number) => ({ ...figureAnswer("a").highest_point, value: feet });
    const loop = planAnswer([figureAnswer("a", 5400, { highest_point: highest(6480) })]);
    for (const height of [120, 150, 400])
      expect(heights(loop, [], { width: 700, height }).y(6480) - 30).toBeGreaterThanOrEqual(0);
  });
  it("lays slots in order inside the picture, with more room for the longer climb", () => {
    const found = slots(answer, size);
    expect(found[0]?.left).toBeGreaterThanOrEqual(LEFT);
    expect(found.at(-1)?.right).toBeLessThanOrEqual(size.width - RIGHT + 0.01);
    const gap = (i: number) => (found[i]?.left ?? 0) - (found[i - 1]?.right ?? 0);
    expect(gap(2)).toBeGreaterThan(gap(1));
    expect(slots(planAnswer([]), size)).toEqual([]);
  });
  it("never overlaps twelve figures", () => {
    const many = planAnswer(
      Array.from({ length: 12 }, (_, i) =>
        figureAnswer(String(i), 5000, { starts_min: 3 * i, ends_min: 3 * i + 0.2 }),
      ),
    );
    slots(many, size).forEach((s, i, all) => {
      if (i > 0) expect(s.left).toBeGreaterThan(all[i - 1]?.right ?? 0);
    });
  });
  it("draws a figure from its notch to its exit", () => {
    const d = stroke(
      [
        [0, 0],
        [5, -500],
        [10, -1000],
      ],
      5000,
      { id: "a", left: 100, right: 150 },
      (ft) => -ft,
    );
    expect(d).toBe("M100.0,-5000.0L125.0,-4500.0L150.0,-4000.0");
  });
  it("draws only what was noted, and nothing from one height", () => {
    const slot = { id: "a", left: 0, right: 100 };
    const noted = attempt(planned("a"), { start_ft: 5000 });
    expect(notedStroke(noted, slot, (ft) => ft)).toBeNull();
    expect(notedStroke({ ...noted, lowest_ft: 4000 }, slot, (ft) => ft)).toBe("M6.0,5000.0L82.0,4000.0");
  });
  it("labels round heights that are not on top of each other", () => {
    const found = marks(3000, 6700, 300);
    expect(found.every((ft) => ft % 250 === 0)).toBe(true);
    expect((found[1] ?? 0) - (found[0] ?? 0)).toBeGreaterThanOrEqual((26 * 3700) / 300);
  });
  it("puts a start at whole fifties of feet, or tens, and nowhere below the sea", () => {
    expect([5174, 5176, -60].map((feet) => heightAt(feet, false))).toEqual([5150, 5200, 0]);
    expect(heightAt(5174, true)).toBe(5170);
  });
  it("puts a dragged figure behind the last of the others that it has passed, either way", () => {
    const three = ["a", "b", "c"].map((id, i) => ({ id, left: 100 * i, right: 100 * i + 50 }));
    const order = ["a", "b", "without a picture", "c"];
    // Middles at 25, 125 and 225: its own is no border.
    const of = (id: string) => [20, 30, 120, 130, 220, 230].map((x) => placeAmong(id, x, three, order));
    expect(of("b")).toEqual([0, 1, 1, 1, 1, 3]);
    expect(of("a")).toEqual([0, 0, 0, 1, 1, 3]);
    expect(of("c")).toEqual([0, 1, 1, 3, 3, 3]);
  });
});
