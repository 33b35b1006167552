import { around, boxOf, placed, type Box, type Label } from "./labels";

const room: Box = { left: 0, top: 0, right: 300, bottom: 200 };
const label = (words: Label["words"], x: number, y: number, over: Partial<Label> = {}): Label => ({
  words,
  x,
  y,
  colour: "#000",
  ...over,
});
const apart = (a: Box, b: Box) =>
  a.right <= b.left || b.right <= a.left || a.bottom <= b.top || b.bottom <= a.top;

describe("words on a picture", () => {
  it("stand where they want to, when nothing is there", () => {
    const [one] = placed([label("Floor", 50, 100)], [], room);
    expect(one).toMatchObject({ words: "Floor", x: 50, y: 100, anchor: "start" });
  });
  it("never lie on each other, on a mark, or beyond the edge, where there is room", () => {
    const marks = [around(60, 100, 12), around(80, 60, 12)];
    const crowd = Array.from({ length: 8 }, (_, i) => label(`label ${i}`, 16 + 20 * i, 30 + 13 * i));
    const found = placed(crowd, marks, room);
    expect(found).toHaveLength(8);
    found.forEach((a, i) => {
      found.slice(i + 1).forEach((b) => expect(apart(a.box, b.box)).toBe(true));
      marks.forEach((mark) => expect(apart(a.box, mark)).toBe(true));
      expect(a.box.left).toBeGreaterThanOrEqual(-2);
      expect(a.box.right).toBeLessThanOrEqual(302);
    });
  });
  it("are shorter where the long ones have no room", () => {
    const [one] = placed(
      [label(["a very long sentence about the floor of the block", "Floor"], 200, 100)],
      [],
      room,
    );
    expect(one?.words).toBe("Floor");
  });
  it("take the place that is named first", () => {
    const [one] = placed([label("top", 60, 100, { tries: [[40, 0, "end"]] })], [around(66, 96, 8)], {
      ...room,
      top: 80,
    });
    expect(one).toMatchObject({ x: 100, anchor: "end" });
  });
  it("are left out when they may be and have no room, and stand on the least when they may not", () => {
    const small: Box = { left: 0, top: 0, right: 40, bottom: 16 };
    const full = [small];
    expect(placed([label("12", 4, 12, { optional: true })], full, small)).toEqual([]);
    expect(placed([label("12", 4, 12)], full, small)).toHaveLength(1);
  });
  it("are as wide as their letters, from their anchor", () => {
    const [start, middle, end] = (["start", "middle", "end"] as const).map((a) =>
      boxOf("12345678", 100, 50, a),
    );
    expect(start!.left).toBeCloseTo(98);
    expect(end!.right).toBeCloseTo(102);
    expect(middle!.left + middle!.right).toBeCloseTo(200);
    expect(boxOf("12345678", 100, 50, "start", 12, true).right).toBeGreaterThan(start!.right);
  });
});
