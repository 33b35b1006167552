import { fireEvent, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { answer, closerLook, figureAnswer, planAnswer } from "../fixtures";
import { GateMap } from "./GateMap";
import { HeightAccount } from "./HeightAccount";
import { LoadEnvelope } from "./LoadEnvelope";
import { OutOfWindow } from "./OutOfWindow";
import { PlanView } from "./PlanView";
import { apart, SideView } from "./SideView";
import type { Card, PlaceDocument } from "../api/types";

const look = closerLook("f1");
const map = look.gate_map!;

describe("the map of entry speeds", () => {
  it("says what comes of the point, and moves it with the arrow keys by 1 and 0.1", async () => {
    const moved: [number, number][] = [];
    render(<GateMap map={map} unit="kt" speed={100} pull={2} onPoint={(v, g) => moved.push([v, g])} />);
    expect(screen.getByRole("status")).toHaveTextContent("100 kt, 2.0 g: fine, loses 380 ft");
    screen.getByRole("slider").focus();
    await userEvent.keyboard("{ArrowRight}{ArrowUp}{ArrowLeft}{ArrowDown}");
    expect(moved).toEqual([
      [101, 2],
      [100, 2.1],
      [99, 2],
      [100, 2],
    ]);
  });
  it("keeps inside its ends and names what is wrong", () => {
    const moved: number[] = [];
    render(<GateMap map={map} unit="kt" speed={120} pull={3} onPoint={(v) => moved.push(v)} />);
    expect(screen.getByRole("status")).toHaveTextContent("too fast");
    fireEvent.keyDown(screen.getByRole("slider"), { key: "ArrowRight" });
    expect(moved).toEqual([120]);
  });
  it("only shows where nothing may be changed", () => {
    render(<GateMap map={map} unit="kt" speed={80} pull={2} />);
    expect(screen.queryByRole("slider")).toBeNull();
    expect(screen.getByRole("status")).toHaveTextContent("too slow");
  });
});

describe("the side view", () => {
  it("has its moments in words for those who do not see it", () => {
    render(
      <SideView
        side={look.side}
        title="Nose low"
        unit="kt"
        height={200}
        lines={[{ words: "Floor 3,000 ft", feet: 3000, colour: "red" }]}
      />,
    );
    expect(
      screen.getByRole("img", { name: "Nose low from the side: from 5,000 to 4,400 ft, 700 ft along" }),
    ).toBeInTheDocument();
    expect(
      screen.getByText("Pull-out: 4,600 ft, 110 kt, 2.5 g, nose -30 degrees, bank 10"),
    ).toBeInTheDocument();
    expect(screen.getByText("Floor 3,000 ft")).toBeInTheDocument();
  });
  it("pushes labels apart and keeps them above the bottom", () => {
    const placed = apart([{ at: 100 }, { at: 102 }, { at: 180 }], 15, 185);
    expect(placed.map((p) => p.y)).toEqual([100, 115, 180]);
    expect(Math.max(...apart([{ at: 180 }, { at: 181 }, { at: 182 }], 15, 185).map((p) => p.y))).toBe(185);
  });
});

describe("out of the window", () => {
  it("says nose, bank and height", () => {
    const eye = { pitch: -30.4, bank: 60, heading: 0, height: 4204, east: 0, north: 0 };
    render(<OutOfWindow eye={eye} words="Pull-out" />);
    expect(screen.getByRole("img")).toHaveAccessibleName(
      "Out of the window, Pull-out: nose 30 degrees down, bank 60 degrees right, 4200 ft",
    );
  });
});

describe("the load", () => {
  it("draws the track and marks what lies outside", () => {
    const point = (when: string, lb: number, inside: boolean) => ({
      when,
      loading: {
        weight: answer("Weight", lb, `${lb} lb`),
        arm: answer("Arm", 48.5),
        seats: [],
        baggage: answer("Baggage", 0, "0 lb"),
        aerobatic_fuel: answer("Fuel", 10),
        aerobatic_minutes: answer("Min", 60),
      },
      stall: answer("Vs", 50),
      manoeuvring: answer("Va", 120),
      fuel_usgal: {},
      inside,
    });
    const balance = {
      aerobatic_forward_in: { value: 45 },
      aerobatic_aft_in: { value: 53 },
      aerobatic_most_lb: { value: 1680 },
    };
    render(
      <LoadEnvelope
        card={{ balance } as unknown as Card}
        answer={{
          ...planAnswer([]),
          load_points: [point("take-off", 1700, false), point("end", 1650, true)],
        }}
      />,
    );
    expect(screen.getByRole("img")).toHaveAccessibleName(
      "Weight and balance: take-off 1700 lb at 48.5 inches, outside; end 1650 lb at 48.5 inches, inside",
    );
  });
});

describe("the place from above", () => {
  const place = {
    name: "Block",
    radius_nm: 3,
    line_deg: 50,
    line_name: "road",
    fields: [{ name: "Strip", bearing_deg: 90, distance_nm: 1, heading_deg: 240, length_ft: 1900 }],
  } as unknown as PlaceDocument;
  it("shows line, fields and where each figure ends, and figures can be chosen", async () => {
    const chosen: string[] = [];
    const plan = planAnswer([figureAnswer("f1"), figureAnswer("f2")]);
    plan.drift.crossings[1]!.outside = true;
    render(
      <PlanView place={place} answer={plan} windFrom={240} windKt={15} onSelect={(id) => chosen.push(id)} />,
    );
    expect(screen.getByText("Strip 1,900 ft")).toBeInTheDocument();
    expect(screen.getByText("road 050")).toBeInTheDocument();
    expect(screen.getByText("wind 240/15")).toBeInTheDocument();
    expect(screen.getByText("2 Spin f2: ends 0.6 NM from the middle, outside")).toBeInTheDocument();
    await userEvent.click(screen.getByText("2"));
    expect(chosen).toEqual(["f2"]);
  });
  it("has no wind where no day is given", () => {
    render(<PlanView place={place} answer={null} windFrom={0} windKt={0} />);
    expect(screen.queryByText(/^wind/)).toBeNull();
  });
});

describe("the account", () => {
  it("hangs each part where the last ended, and one that gives back goes left", () => {
    render(
      <HeightAccount
        bars={[
          { part: "Pull up", height_ft: -200, shown: "-200 ft", colour: "blue" },
          { part: "Down", height_ft: 500, shown: "500 ft", colour: "blue" },
        ]}
        totals={[["Likely loss", answer("Likely", 300)]]}
      />,
    );
    expect(screen.getAllByRole("row")).toHaveLength(3);
    expect(screen.getByText("-200 ft")).toBeVisible();
  });
});
