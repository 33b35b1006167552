import { render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import type { Attempt } from "../../api/types";
import { answer, figureAnswer, planned } from "../../fixtures";
import { Briefed } from "./Briefed";
import { Faults } from "./Faults";
import { FeelKeys, HeightKeys, StepKeys, TurnKeys, WhoKeys } from "./Keys";
import { preset, type HeightName, type Noting } from "./noting";

const FAULTS = ["a", "b", "c", "d", "e", "f", "g"].map((key) => ({
  key,
  words: `Fault ${key}`,
  does: "",
  numbers: {},
  assumed: "",
}));
const figure = figureAnswer("f1", 5000, { faults: FAULTS });
const blank: Attempt = {
  id: "a1",
  planned: planned("f1"),
  faults: [],
  note: "",
  skipped: false,
  flown_by: "student with talk",
};
const noted = () => JSON.parse(screen.getByTestId("noted").textContent ?? "null") as Attempt | null;

function Flown({
  first = null,
  editable = true,
  children,
}: {
  first?: Attempt | null;
  editable?: boolean;
  children: (noting: Noting, active: HeightName, activate: (name: HeightName) => void) => React.ReactNode;
}) {
  const [attempt, setAttempt] = useState(first);
  const [active, setActive] = useState<HeightName>("start_ft");
  const edit = (change: Partial<Attempt>) => setAttempt((now) => ({ ...(now ?? blank), ...change }));
  return (
    <>
      <output data-testid="noted">{JSON.stringify(attempt)}</output>
      {children({ figure, attempt, editable, edit }, active, setActive)}
    </>
  );
}

describe("what a height key offers", () => {
  it("is the plan's own height, to 20 ft", () => {
    expect(preset(figure, null, "start_ft")).toBe(5000);
    expect(preset(figure, null, "recover_ft")).toBe(4600);
    expect(preset(figure, null, "lowest_ft")).toBe(4000);
    expect(preset(figure, { ...blank, start_ft: 5110 }, "lowest_ft")).toBe(4120);
    expect(preset(figure, { ...blank, lowest_ft: 3870 }, "level_ft")).toBe(3870);
  });
});

describe("height keys", () => {
  it("take what is offered with the first tap, and keep what stands with the next", async () => {
    render(
      <Flown first={{ ...blank, lowest_ft: 3700 }}>
        {(noting, active, activate) => <HeightKeys {...noting} active={active} onActive={activate} />}
      </Flown>,
    );
    await userEvent.click(screen.getByRole("button", { name: /^Lowest/ }));
    expect(noted()?.lowest_ft).toBe(3700);
    expect(screen.getByRole("button", { name: /^Lowest/ })).toHaveAttribute("aria-pressed", "true");
    await userEvent.click(screen.getByRole("button", { name: /^Recover/ }));
    expect(noted()?.recover_ft).toBe(4600);
  });
  it("move the height that is chosen, never below nothing", async () => {
    render(
      <Flown first={{ ...blank, start_ft: 90 }}>
        {(noting, active) => <StepKeys {...noting} active={active} />}
      </Flown>,
    );
    await userEvent.click(screen.getByRole("button", { name: "+20" }));
    expect(noted()?.start_ft).toBe(110);
    await userEvent.click(screen.getByRole("button", { name: "−100" }));
    await userEvent.click(screen.getByRole("button", { name: "−20" }));
    expect(noted()?.start_ft).toBe(0);
  });
});

describe("turns, feel and who", () => {
  it("counts half turns from the plan's, down to none", async () => {
    render(<Flown>{(noting) => <TurnKeys {...noting} planned={1} />}</Flown>);
    expect(screen.getByText("1 turns ?")).toBeVisible();
    await userEvent.click(screen.getByRole("button", { name: "Half a turn more" }));
    expect(noted()?.turns).toBe(1.5);
    for (let i = 0; i < 4; i += 1)
      await userEvent.click(screen.getByRole("button", { name: "Half a turn less" }));
    expect(noted()?.turns).toBe(0);
  });
  it("takes a number back with a second tap", async () => {
    render(<Flown>{(noting) => <FeelKeys {...noting} />}</Flown>);
    await userEvent.click(screen.getByRole("button", { name: "Feel 10" }));
    expect(noted()?.feel).toBe(10);
    await userEvent.click(screen.getByRole("button", { name: "Feel 10" }));
    expect(noted()?.feel).toBeNull();
    expect(within(screen.getByRole("group")).getAllByRole("button")).toHaveLength(11);
  });
  it("always has somebody who flew", async () => {
    render(<Flown>{(noting) => <WhoKeys {...noting} />}</Flown>);
    await userEvent.click(screen.getByRole("button", { name: "I showed" }));
    await userEvent.click(screen.getByRole("button", { name: "I showed" }));
    expect(noted()?.flown_by).toBe("instructor shows");
  });
  it("cannot be changed by who may only read", () => {
    render(
      <Flown editable={false}>
        {(noting) => (
          <>
            <FeelKeys {...noting} />
            <WhoKeys {...noting} />
            <TurnKeys {...noting} planned={1} />
          </>
        )}
      </Flown>,
    );
    for (const key of screen.getAllByRole("button")) expect(key).toBeDisabled();
  });
});

describe("faults", () => {
  it("begin with those of the last lesson, show five, and the rest when asked", async () => {
    render(<Flown>{(noting) => <Faults {...noting} first={["Fault g"]} />}</Flown>);
    const shown = () => screen.getAllByRole("button").map((key) => key.textContent);
    expect(shown()).toEqual(["Fault g", "Fault a", "Fault b", "Fault c", "Fault d", "2 more"]);
    await userEvent.click(screen.getByRole("button", { name: "2 more" }));
    await userEvent.click(screen.getByRole("button", { name: "Fault f" }));
    await userEvent.click(screen.getByRole("button", { name: "Fewer" }));
    expect(noted()?.faults).toEqual(["f"]);
    expect(shown()).toContain("Fault f");
    await userEvent.click(screen.getByRole("button", { name: "Fault f" }));
    expect(noted()?.faults).toEqual([]);
  });
});

describe("what was briefed", () => {
  it("never offers a start below the lowest", () => {
    const low = { ...figure, lowest_start: answer("Lowest start", 5200) };
    const { rerender } = render(<Briefed figure={low} n={2} of={3} />);
    expect(screen.getByText("5,200 ft")).toBeVisible();
    expect(screen.getByText("2 of 3")).toBeVisible();
    rerender(<Briefed figure={figure} n={2} of={3} />);
    expect(screen.getByText("5,000 ft")).toBeVisible();
    expect(screen.getByText("My controls if it is still turning")).toBeVisible();
  });
});
