import { render, screen } from "@testing-library/react";
import { FigureTrace } from "../../charts/FigureTrace";
import { foundIn } from "./AttemptTrace";
import { found, recorded } from "./fixtures";
import { inShort } from "./Recordings";

class Still {
  observe() {}
  disconnect() {}
}
beforeEach(() => vi.stubGlobal("ResizeObserver", Still));

describe("what a recording says in short", () => {
  it("counts figures, those not planned, and what was left out", () => {
    const figures = [found("f1"), found("x", { place: "unplanned", planned: null })];
    expect(inShort(recorded(1, {}, figures))).toBe(
      "2 figures found, 1 not planned; 2 fields or lines left out",
    );
    const clean = recorded(1, {}, []);
    expect(inShort({ ...clean, flight: { ...clean.flight, counts: {} } })).toBe("0 figures found");
  });
  it("is of the last recording that counts and has the attempt", () => {
    const first = recorded(1, {}, [found("f1", { sure: 0.1 })]);
    const second = recorded(2, {}, [found("f1", { sure: 0.2 })]);
    const aside = recorded(3, { set_aside: true }, [found("f1", { sure: 0.3 })]);
    expect(foundIn([first, second, aside], "f1")?.sure).toBe(0.2);
    expect(foundIn([first], "f2")).toBeNull();
  });
});

describe("the trace of a figure", () => {
  it("says from where to where in words, with its phases", () => {
    const seconds = [-3, 0, 6, 10, 12];
    const height_ft = [5000, 5003, 4603, 4317, 4330];
    render(
      <FigureTrace
        trace={{
          seconds,
          height_ft,
          ias: [],
          g: [],
          pitch_deg: [],
          bank_deg: [],
          heading_deg: [],
          east_ft: [],
          north_ft: [],
        }}
        found={found("f1")}
        profile={[
          [0, 0],
          [9, -650],
        ]}
        floor_ft={3000}
        title="One-turn spin, left"
      />,
    );
    expect(
      screen.getByRole("img", { name: "One-turn spin, left as recorded: from 5,000 ft to 4,310 ft" }),
    ).toBeVisible();
    expect(
      screen.getByText("Until the rotation slows: 400 ft in 6.0 s; To the pull: 290 ft in 4.0 s"),
    ).toBeInTheDocument();
  });
  it("adds up from the start to the lowest as the attempt has them", () => {
    // 44 ft between heights that are read as 3,800 and 3,750.
    const flat = { start_ft: 3800, lowest_ft: 3756, phases: [{ name: "To it", lost_ft: 44, seconds: 4 }] };
    const one = found("f1");
    render(
      <FigureTrace
        trace={{
          ...{ seconds: [0, 4], height_ft: [3800, 3756], ias: [], g: [] },
          ...{ pitch_deg: [], bank_deg: [], heading_deg: [], east_ft: [], north_ft: [] },
        }}
        found={{ ...one, measured: { ...one.measured, ...flat } }}
        profile={[]}
        floor_ft={3000}
        title="Steep turn"
      />,
    );
    expect(screen.getByText("To it: 50 ft in 4.0 s")).toBeInTheDocument();
  });
});
