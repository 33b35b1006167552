import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { attempt, planned } from "../../fixtures";
import { heightLost } from "../Went";
import { Became, became } from "./Became";
import { Beside } from "./Beside";

const spin = planned("f1");
const catalogue = {
  flown_by: ["instructor shows" as const, "student alone" as const],
  earned: {},
  standings: [],
  needed: [],
  figures: [
    {
      key: spin.key,
      name: "Spin",
      family: "spins",
      purpose: "",
      has_sides: true,
      faults: [],
      outcomes: ["as intended" as const, "spun the other way" as const],
      parameters: [],
      schools: [],
    },
  ],
};

describe("what became of an attempt", () => {
  it("is said in one line, and not where it went as intended", () => {
    expect(became(attempt(spin, { outcome: "as intended" }))).toBe("");
    const many = { outcome: "spun the other way", taken_over_ft: 3700, abandoned: "cloud" } as const;
    expect(became(attempt(spin, many))).toBe("spun the other way; taken over at 3,700; broken off: cloud");
    expect(became(attempt(spin, { skipped: true }))).toBe("skipped");
  });
  it("shows the height it took with its sign, and none until both heights are there", () => {
    expect(heightLost({ start_ft: 5000, lowest_ft: 3800 })).toBe("−1,200");
    expect(heightLost({ start_ft: 5000, lowest_ft: 5040 })).toBe("+40");
    expect(heightLost({ start_ft: 5000, lowest_ft: 5000 })).toBe("0");
    expect(heightLost({ start_ft: 5000 })).toBe("");
    expect(heightLost(null)).toBe("");
  });
  it("is noted afterwards too, with who flew and the height of a take-over", async () => {
    const edits: object[] = [];
    render(
      <Became
        attempt={attempt(spin)}
        catalogue={catalogue}
        range={{}}
        editable
        edit={(edit) => edits.push(edit)}
      />,
    );
    await userEvent.click(screen.getByRole("combobox", { name: "What became of it" }));
    await userEvent.click(screen.getByRole("option", { name: "spun the other way" }));
    await userEvent.click(screen.getByRole("combobox", { name: "Who flew" }));
    await userEvent.click(screen.getByRole("option", { name: "student alone" }));
    await userEvent.type(screen.getByRole("textbox", { name: "Taken over" }), "3700{Enter}");
    await userEvent.type(screen.getByRole("textbox", { name: "Broken off: why" }), "cloud");
    expect(edits).toEqual([
      { outcome: "spun the other way" },
      { flown_by: "student alone" },
      { taken_over_ft: 3700 },
    ]);
    await userEvent.tab();
    expect(edits[3]).toEqual({ abandoned: "cloud" });
  });
});

describe("what stands beside the numbers", () => {
  const both = attempt(spin, {
    lowest_ft: 3600,
    stops: [{ kind: "floor", value: 2900 }],
    otherwise: [
      { what: "lowest_ft", about: "", value: 3560, by: "Cy", recorder: false },
      { what: "level_ft", about: "", value: 3580, by: "", recorder: true },
    ],
  });
  it("is what another or the recorder noted, and either can be taken", async () => {
    const edits: object[] = [];
    render(<Beside attempt={both} editable edit={(edit) => edits.push(edit)} />);
    expect(screen.getByText("Lowest: 3,560 noted by Cy")).toBeVisible();
    expect(screen.getByText("Level: 3,580 noted by the recorder")).toBeVisible();
    expect(screen.getByText("Stop in flight: floor, 2,900")).toBeVisible();
    await userEvent.click(screen.getAllByRole("button", { name: "Take it" })[0]!);
    expect(edits).toEqual([{ lowest_ft: 3560 }]);
  });
  it("is nothing where all agree", () => {
    const { container } = render(<Beside attempt={attempt(spin)} editable edit={() => undefined} />);
    expect(container).toBeEmptyDOMElement();
  });
});
