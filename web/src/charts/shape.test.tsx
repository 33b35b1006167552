import { render, screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Shape, Trace } from "../api/types";
import { FlownSide } from "./FlownSide";
import { ShapeFlown } from "./ShapeFlown";
import { SpeedAndGFlown } from "./SpeedAndGFlown";

const NONE: Shape = {
  nose_deg: [],
  radii_ft: [],
  lines: [],
  top_off_deg: null,
  first_bank_deg: null,
  roundness: null,
};

const show = (shape: Partial<Shape>, meant: Partial<Shape> | null = null) =>
  render(<ShapeFlown shape={{ ...NONE, ...shape }} meant={meant && { ...NONE, ...meant }} />);

describe("the shape that was flown", () => {
  it("is nothing where there is none", () => {
    expect(show({}).container).toBeEmptyDOMElement();
    expect(show({ radii_ft: [null, null, null, null] }).container).toBeEmptyDOMElement();
  });
  it("says where the nose stood after each quarter of a roll, without a minus before nothing", () => {
    show({ nose_deg: [14.4, 7.6, 0.2, -0.3, -11.6] });
    expect(
      screen.getByRole("img", {
        name: "Nose above the horizon: in 14°, side 8°, back 0°, side 0°, out −12°",
      }),
    ).toBeVisible();
  });
  it("has the radius of each quarter of a loop beside the planned one, and how round it is", () => {
    const { container } = show(
      { radii_ft: [881, 292, 238, null], roundness: null },
      { radii_ft: [719, 334, null, 684], roundness: 0.38 },
    );
    expect(
      screen.getByRole("img", {
        name: "Radius of each quarter: up 880 ft, as planned 720; over 290 ft, as planned 330; down 240 ft",
      }),
    ).toBeVisible();
    expect(container).not.toHaveTextContent("Tightest");
    // Three arcs flown and three meant, the quarters that were not flown left out.
    const arcs = [...container.querySelectorAll("path")].map((p) => p.getAttribute("d")?.match(/A/g)?.length);
    expect(arcs).toEqual([3, 3]);
  });
  it("says how round a whole loop is, and to which side it leans", () => {
    show({ radii_ft: [400, 300, 300, 400], roundness: 0.75, top_off_deg: -6.2 }, { roundness: 0.8 });
    expect(screen.getByText("Tightest quarter 75% of the widest; as planned 80%.")).toBeVisible();
    expect(screen.getByText("Heading at the top: 6° left of the way in.")).toBeVisible();
  });
  it("draws a loop with its top above its bottom, over the way in", () => {
    const { container } = show({ radii_ft: [100, 100, 100, 100] });
    const flown = container.querySelectorAll("path")[1]?.getAttribute("d") ?? "";
    const points = [...flown.matchAll(/(-?[\d.]+),(-?[\d.]+)(?=A|$)/g)].map(([, x, y]) => [
      Number(x),
      Number(y),
    ]);
    const [start, up, top, down, end] = points as [number, number][];
    expect(up?.[0]).toBeGreaterThan(start?.[0] ?? 0);
    expect(top?.[1]).toBeLessThan(up?.[1] ?? 0);
    expect(down?.[0]).toBeLessThan(start?.[0] ?? 0);
    expect(end?.[0]).toBeCloseTo(start?.[0] ?? -1, 0);
    expect(end?.[1]).toBeCloseTo(start?.[1] ?? -1, 0);
  });
  it("says how steep the lines were, and when they went past the vertical", () => {
    show(
      {
        lines: [
          { angle_deg: 80.6, past_vertical: false, seconds: 3.92, at_s: 4 },
          { angle_deg: -97, past_vertical: true, seconds: 2, at_s: 9 },
        ],
      },
      { lines: [{ angle_deg: 91.4, past_vertical: false, seconds: 3.2, at_s: 4 }] },
    );
    expect(screen.getByText("Line up 81° for 3.9 s; as planned 89° for 3.2 s.")).toBeVisible();
    expect(screen.getByText("Line down 83° past the vertical for 2.0 s.")).toBeVisible();
  });
});

const trace = (over: Partial<Trace>): Trace => ({
  seconds: [0, 1, 2],
  height_ft: [5000, 4900, 4800],
  ias: [100, 110, 120],
  g: [1, 2, 3],
  pitch_deg: [0, 0, 0],
  bank_deg: [0, 0, 0],
  heading_deg: [90, 90, 90],
  east_ft: [0, 100, 200],
  north_ft: [0, 0, 0],
  ...over,
});

describe("a recorded figure from the side", () => {
  it.each([
    [200, "200 ft"],
    [700, "500 ft"],
    [3000, "1,000 ft"],
  ])("over %s ft has a scale of %s that leaves room for its words", (far, words) => {
    const { container } = render(
      <FlownSide trace={trace({ east_ft: [0, far / 2, far] })} title="Spin" size={190} />,
    );
    const said = screen.getByText(words);
    expect(Number(said.getAttribute("x"))).toBeLessThanOrEqual(190 - 56);
    expect(container).toBeVisible();
  });
});

describe("speed and g of a recorded figure", () => {
  it("has no sign before nothing", () => {
    render(<SpeedAndGFlown trace={trace({ g: [-0.02, 1, 3.46] })} unit="kt" />);
    expect(screen.getByText("0.0 to 3.5 g")).toBeVisible();
    expect(screen.getByText("100 to 120 kt")).toBeVisible();
  });
});
