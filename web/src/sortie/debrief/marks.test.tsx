import { fireEvent, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { scaleLinear } from "d3-scale";
import type { Mark } from "../../api/types";
import { pass, stopTime } from "../../passing";
import { Edges } from "../../charts/Edges";
import { merged, renamed, shifted, split, without } from "./marks";

const at = (begins_s: number, ends_s: number, planned: string): Mark => ({
  ...{ begins_s, ends_s, planned },
  ...{ key: "spin", side: "left" },
});
const marks = [at(10, 20, "f1"), at(22, 30, "f2"), at(30, 41, "f3")];
const edges = (found: readonly Mark[]) => found.map((m) => [m.planned, m.begins_s, m.ends_s]);

describe("marks of a recording", () => {
  it("are shifted, and a neighbour gives way", () => {
    expect(edges(shifted(marks, 1, 19.004, 32))).toEqual([
      ["f1", 10, 19],
      ["f2", 19, 32],
      ["f3", 32, 41],
    ]);
    expect(edges(shifted(marks, 1, 24, 28))).toEqual([
      ["f1", 10, 20],
      ["f2", 24, 28],
      ["f3", 30, 41],
    ]);
  });
  it("are renamed, made two, made one, left out", () => {
    expect(renamed(marks, 2, { key: "loop", side: "right", planned: null })[2]).toEqual({
      ...{ begins_s: 30, ends_s: 41, key: "loop", side: "right", planned: null },
    });
    expect(edges(split(marks, 0, 14.5))).toEqual([
      ["f1", 10, 14.5],
      ["f1", 14.5, 20],
      ["f2", 22, 30],
      ["f3", 30, 41],
    ]);
    expect(edges(merged(marks, 1))).toEqual([
      ["f1", 10, 20],
      ["f2", 22, 41],
    ]);
    expect(merged(marks, 2)).toEqual(marks);
    expect(edges(without(marks, 0))).toEqual([
      ["f2", 22, 30],
      ["f3", 30, 41],
    ]);
  });
});

describe("the edges of a figure on its trace", () => {
  afterEach(() => void vi.useRealTimers());
  function shown() {
    const told: [number, number][] = [];
    const x = scaleLinear().domain([-3, 13]).range([0, 160]);
    render(
      <svg>
        <Edges x={x} top={0} bottom={100} ends={10} onEdges={(a, b) => told.push([a, b])} />
      </svg>,
    );
    return told;
  }
  it("are shifted by the arrow keys, by a second with Shift, and told once when they rest", async () => {
    stopTime();
    const told = shown();
    const begins = screen.getByRole("slider", { name: "Begins" });
    for (const key of ["ArrowRight", "ArrowRight"]) fireEvent.keyDown(begins, { key });
    fireEvent.keyDown(begins, { key: "ArrowLeft", shiftKey: true });
    expect(screen.getByRole("slider", { name: "Begins" })).toHaveAttribute("aria-valuenow", "-0.6");
    expect(told).toEqual([]);
    await pass(1_000);
    expect(told).toEqual([[-0.6, 10]]);
  });
  it("stay inside what is shown, and a second apart", async () => {
    shown();
    const [begins, ends] = [
      screen.getByRole("slider", { name: "Begins" }),
      screen.getByRole("slider", { name: "Ends" }),
    ];
    begins.focus();
    await userEvent.keyboard("{Shift>}{ArrowLeft>8/}{/Shift}");
    expect(begins).toHaveAttribute("aria-valuenow", "-3");
    await userEvent.keyboard("{Shift>}{ArrowRight>30/}{/Shift}");
    expect(begins).toHaveAttribute("aria-valuenow", "9");
    ends.focus();
    await userEvent.keyboard("{Shift>}{ArrowRight>9/}{/Shift}");
    expect(ends).toHaveAttribute("aria-valuenow", "13");
  });
  it("follow the mouse, and are told when it lets go", async () => {
    stopTime();
    const told = shown();
    const ends = screen.getByRole("slider", { name: "Ends" });
    Object.assign(ends, { setPointerCapture: () => undefined, hasPointerCapture: () => true });
    fireEvent.pointerDown(ends, { pointerId: 1, clientX: 130 });
    fireEvent.pointerMove(ends, { pointerId: 1, clientX: 110 });
    await pass(10_000);
    expect(told).toEqual([]);
    fireEvent.pointerUp(ends, { pointerId: 1 });
    await pass(1_000);
    expect(told).toEqual([[0, 8]]);
  });
});
