import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import type { FigureFound, Mark } from "../../api/types";
import { planned } from "../../fixtures";
import { Questions } from "../../Questions";
import { Marking } from "./Marking";

const measured = {
  ...{ begins_s: 100, ends_s: 112, start_ft: 5000, recover_ft: 4700, lowest_ft: 4300, level_ft: 4310 },
  ...{ lost_ft: 700, recover_s: 104, lowest_s: 109, pull_s: 106, recovered_s: 111, phases: [] },
} as unknown as FigureFound["measured"];

function found(name: string, over: Partial<FigureFound> = {}): FigureFound {
  return {
    ...{ attempt: name, key: "spin", title: "One-turn spin, left", side: "left", planned: name },
    ...{ place: "planned", sure: 0.8, could_be: [], measured, became: null, taps: [] },
    ...over,
  };
}

function marking(at = 0) {
  const told: Mark[][] = [];
  const second = found("f2", { measured: { ...measured, begins_s: 130, ends_s: 140 } });
  render(
    <Questions>
      <Marking
        figures={[found("f1"), second]}
        at={at}
        plan={[planned("f1"), { ...planned("f2"), key: "nose_low" }]}
        titles={{ f1: "One-turn spin, left", f2: "Nose-low recovery, left" }}
        onMark={(marks) => told.push(marks)}
        onClose={() => undefined}
      />
      ,
    </Questions>,
  );
  return told;
}

it("is another figure of the plan, to another side, from a later edge", async () => {
  const told = marking();
  await userEvent.click(screen.getByRole("combobox", { name: /Figure/ }));
  await userEvent.click(screen.getByRole("option", { name: "Nose-low recovery, left, of the plan" }));
  await userEvent.click(screen.getByRole("combobox", { name: /Side/ }));
  await userEvent.click(screen.getByRole("option", { name: "right" }));
  const begins = screen.getByRole("textbox", { name: /Begins later by/ });
  await userEvent.clear(begins);
  await userEvent.type(begins, "1.5{Enter}");
  await userEvent.click(screen.getByRole("button", { name: "Measure again" }));
  expect(told).toEqual([
    [
      { begins_s: 101.5, ends_s: 112, key: "nose_low", side: "right", planned: "f2" },
      { begins_s: 130, ends_s: 140, key: "spin", side: "left", planned: "f2" },
    ],
  ]);
});

it("is two where it is cut, one with the next, or none", async () => {
  const told = marking();
  expect(screen.getByRole("button", { name: "Make it two" })).toBeDisabled();
  await userEvent.type(screen.getByRole("textbox", { name: /Cut after/ }), "5{Enter}");
  await userEvent.click(screen.getByRole("button", { name: "Make it two" }));
  await userEvent.click(screen.getByRole("button", { name: "One with the next" }));
  await userEvent.click(screen.getByRole("button", { name: "No figure" }));
  expect(told.map((marks) => marks.map((m) => [m.begins_s, m.ends_s]))).toEqual([
    [
      [100, 105],
      [105, 112],
      [130, 140],
    ],
    [[100, 140]],
    [[130, 140]],
  ]);
});

it("has no next where it is the last", () => {
  marking(1);
  expect(screen.queryByRole("button", { name: "One with the next" })).toBeNull();
});
