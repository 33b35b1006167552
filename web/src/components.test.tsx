import { cleanup, render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { HeightAccount } from "./charts/HeightAccount";
import { answer, draft, figureAnswer, planAnswer, planned } from "./fixtures";
import { SpinFit } from "./fleet/CardSheet";
import { isTyping } from "./frame/keys";
import type { Catalogue } from "./api/types";
import { FigureSettings } from "./sortie/plan/FigureSettings";
import { NumberField } from "./forms/NumberField";
import { TypingContext, useTyping } from "./forms/typed";
import { Questions } from "./Questions";
import { HeightStrip } from "./strip/HeightStrip";
import { ChecksColumn } from "./verdict/ChecksColumn";
import { VerdictMark } from "./verdict/VerdictMark";
import { WhyNumber } from "./why/WhyNumber";
import { WhyPanel } from "./why/WhyPanel";
import { WhyContext } from "./why/why";

describe("why", () => {
  it("walks down into the inputs and back", async () => {
    const looked: string[] = [];
    const agl = answer("Regulation, above the ground", 1500),
      floor = answer("Floor", 3010, "3,010 ft", [agl]);
    render(
      <WhyPanel
        answer={answer("Lowest start", 4390, "4,390 ft", [floor, answer("Loss", 1280)])}
        opened={1}
        over={false}
        onLook={(label) => looked.push(label)}
        onClose={() => undefined}
      />,
      { wrapper: Questions },
    );
    expect(await screen.findByText("4,390 ft")).toBeVisible();
    await userEvent.click(screen.getByRole("button", { name: /^Floor.*3,010 ft/ }));
    expect(screen.getByText("Regulation, above the ground")).toBeVisible();
    expect(looked).toEqual(["Lowest start", "Floor"]);
    await userEvent.click(screen.getByRole("button", { name: "Back to Lowest start" }));
    expect(screen.getByText("How Lowest start comes about.")).toBeVisible();
  });
  it("is asked of a number by a click", async () => {
    const asked: string[] = [];
    render(
      <WhyContext value={{ open: (a) => asked.push(a.label), follow: () => undefined }}>
        <WhyNumber answer={answer("Likely loss", 1100)} />
      </WhyContext>,
    );
    await userEvent.click(screen.getByRole("button", { name: "Likely loss: 1,100 ft. Why?" }));
    expect(asked).toEqual(["Likely loss"]);
  });
});

describe("verdicts", () => {
  it("differ in shape, not only in colour", () => {
    const { container } = render(
      <>
        {(["stop", "mind", "fine"] as const).map((v) => (
          <VerdictMark key={v} verdict={v} />
        ))}
      </>,
    );
    expect(new Set([...container.querySelectorAll("svg")].map((s) => s.innerHTML)).size).toBe(3);
    expect(screen.getAllByRole("img").map((i) => i.getAttribute("aria-label"))).toEqual([
      "stop",
      "mind",
      "fine",
    ]);
  });
  it("lets a stop be overridden only with a reason of eight letters", async () => {
    const reasons: string[] = [];
    const plan = {
      ...planAnswer([]),
      stops: 1,
      checks: [
        {
          id: "visibility",
          kind: "visibility" as const,
          subject: "",
          hint: "",
          limit: null,
          verdict: "stop" as const,
          title: "Visibility",
          sentence: "2 SM reported.",
          deciding: answer("Visibility", 2, "2.0 SM"),
          spare: "1 SM short",
          figure: null,
          overridden: null,
          room: -1,
          change: "day" as const,
        },
      ],
    };
    render(
      <ChecksColumn
        answer={plan}
        onSelect={() => undefined}
        onOverride={(check, reason) => reasons.push(`${check.id}: ${reason}`)}
      />,
    );
    await userEvent.click(screen.getByRole("button", { name: "Override" }));
    const dialog = within(screen.getByRole("dialog"));
    await userEvent.type(dialog.getByRole("textbox"), "because");
    expect(dialog.getByRole("button", { name: "Override" })).toBeDisabled();
    await userEvent.type(dialog.getByRole("textbox"), " the tower says four");
    await userEvent.click(dialog.getByRole("button", { name: "Override" }));
    expect(reasons).toEqual(["visibility: because the tower says four"]);
  });
});

describe("a typed number", () => {
  const passed: (number | null)[] = [];
  function Field({ optional = false, least, most }: { optional?: boolean; least?: number; most?: number }) {
    const [value, setValue] = useState<number | null>(4700);
    const { typed, tell } = useTyping();
    return (
      <TypingContext value={tell}>
        <NumberField
          label="Start"
          unit="ft"
          step={50}
          optional={optional}
          least={least}
          most={most}
          value={value}
          onValue={(v) => {
            passed.push(v);
            setValue(v);
          }}
        />
        <output>{typed.map((f) => `${f.label}|${f.problem}`).join(";")}</output>
        <button onClick={() => setValue(5000)}>elsewhere</button>
      </TypingContext>
    );
  }
  const field = () => screen.getByRole("textbox", { name: "Start, ft" });
  beforeEach(() => passed.splice(0));

  it("is taken whole, by Enter or by leaving the field, and never half", async () => {
    render(<Field />);
    await userEvent.clear(field());
    await userEvent.type(field(), "4 500");
    expect(passed).toEqual([]);
    expect(screen.getByText("read as 4500")).toBeVisible();
    expect(screen.getByRole("status")).toHaveTextContent("Start|");
    await userEvent.tab();
    expect(passed).toEqual([4500]);
    expect(field()).toHaveValue("4500");
    expect(screen.getByRole("status")).toHaveTextContent(/^$/);
    await userEvent.clear(field());
    await userEvent.type(field(), "5200{Enter}");
    expect(passed).toEqual([4500, 5200]);
  });
  it("that is not understood stays as it was typed, says why, and passes nothing on", async () => {
    render(<Field />);
    await userEvent.clear(field());
    await userEvent.type(field(), "4.500");
    expect(field()).not.toHaveAccessibleDescription();
    await userEvent.tab();
    expect(field()).toHaveAccessibleDescription("'4.500' could be 4500 or 4.5: write one of them.");
    expect(field()).toHaveValue("4.500");
    expect(screen.getByRole("status")).toHaveTextContent("Start|'4.500' could be");
    // What changes elsewhere does not overwrite what was typed.
    await userEvent.click(screen.getByText("elsewhere"));
    expect(field()).toHaveValue("4.500");
    await userEvent.type(field(), "{Escape}");
    expect(field()).toHaveValue("5000");
    expect(passed).toEqual([]);
  });
  it("outside its range passes nothing on and says what may be given", async () => {
    render(<Field least={500} most={6000} />);
    await userEvent.clear(field());
    await userEvent.type(field(), "4{Enter}");
    expect(screen.getByText("4 is too little: give 500 to 6,000.")).toBeVisible();
    expect(passed).toEqual([]);
    await userEvent.clear(field());
    await userEvent.type(field(), "6000{Enter}{ArrowUp}{ArrowDown}");
    expect(passed).toEqual([6000, 5950]);
  });
  it("may be left empty only where nothing is needed", async () => {
    render(<Field />);
    await userEvent.clear(field());
    await userEvent.tab();
    expect(screen.getByText("Write a number.")).toBeVisible();
    cleanup();
    render(<Field optional />);
    await userEvent.clear(field());
    await userEvent.tab();
    expect(passed).toEqual([null]);
  });
  it("is letters' business while typing", () => {
    const input = document.createElement("input");
    expect(isTyping(input)).toBe(true);
    expect(isTyping(document.createElement("button"))).toBe(false);
  });
});

describe("the account", () => {
  it("shows each part and its totals", () => {
    render(
      <HeightAccount
        bars={[
          { part: "Entry", height_ft: 340, shown: "340 ft", colour: "#000" },
          { part: "Pull-out", height_ft: -40, shown: "−40 ft", colour: "#000" },
        ]}
        totals={[["Likely loss", answer("Likely loss", 300)]]}
      />,
    );
    expect(screen.getAllByRole("row").map((r) => r.textContent)).toEqual([
      "Entry340 ft",
      "Pull-out−40 ft",
      "Likely loss300 ft",
    ]);
  });
});

describe("the strip", () => {
  it("moves a notch by keyboard from where the hand has it, not from where the server last saw it", async () => {
    const moves: [string, number][] = [];
    render(
      <HeightStrip
        answer={planAnswer([figureAnswer("f1", 5000)])}
        starts={new Map([["f1", 5150]])}
        onStart={(id, ft) => moves.push([id, ft])}
      />,
    );
    const notch = screen.getByRole("slider", { name: "1 Spin f1, start height" });
    expect(notch).toHaveAttribute("aria-valuenow", "5150");
    notch.focus();
    await userEvent.keyboard("{ArrowUp}{Shift>}{ArrowDown}{/Shift}");
    expect(moves).toEqual([
      ["f1", 5200],
      ["f1", 5140],
    ]);
  });
  it("numbers figures as the plan does, also when one before has no picture", () => {
    render(
      <HeightStrip
        answer={{ ...planAnswer([figureAnswer("f2")]), titles: { f1: "Spin f1", f2: "Spin f2" } }}
        onSelect={() => undefined}
      />,
    );
    expect(screen.getByRole("button", { name: "2 Spin f2, start height" })).toBeInTheDocument();
  });
  it("is passed by Tab without a choice where nothing is moved, and chosen from by Enter", async () => {
    const chosen: string[] = [];
    const answer = planAnswer([figureAnswer("f1", 5000), figureAnswer("f2", 5000)]);
    render(<HeightStrip answer={answer} onSelect={(id) => chosen.push(id)} />);
    await userEvent.tab();
    expect(screen.getByRole("button", { name: "1 Spin f1, start height" })).toHaveFocus();
    await userEvent.tab();
    expect(chosen).toEqual([]);
    await userEvent.keyboard("{Enter}");
    expect(chosen).toEqual(["f2"]);
  });
  it("has its text behind it", () => {
    render(<HeightStrip answer={planAnswer([figureAnswer("f1", 5000)])} />);
    expect(within(screen.getByRole("table")).getByText("1 Spin f1")).toBeInTheDocument();
  });
});

describe("what a card says of its spin and what the motion gives", () => {
  const line = (label: string, apart: boolean) => ({
    label,
    said: "520 ft",
    given: "610 ft",
    apart,
    check: apart ? "Check the pull-out." : "",
  });
  it("is shown with both numbers where they are apart, and not at all where they are one", () => {
    const { rerender } = render(<SpinFit lines={[line("One turn", true), line("Seconds a turn", false)]} />);
    expect(screen.getByText("One turn")).toBeVisible();
    expect(screen.getByText("520 ft")).toBeVisible();
    expect(screen.getByText("610 ft")).toBeVisible();
    expect(screen.getByText("Check the pull-out.")).toBeVisible();
    expect(screen.queryByText("Seconds a turn")).toBeNull();
    rerender(<SpinFit lines={[line("Seconds a turn", false)]} />);
    expect(screen.queryByText(/the motion gives/)).toBeNull();
  });
});

describe("a setting that can be found", () => {
  const roll = planned("f1", { key: "slow_roll", parameters: {} });
  const up = {
    name: "line_deg",
    label: "Nose up",
    unit: "deg",
    usual: 15,
    least: 3,
    most: 30,
    switch: false,
  };
  const kind = { key: "slow_roll", name: "Slow roll", family: "Rolls", purpose: "", has_sides: true };
  const catalogue = {
    figures: [{ ...kind, schools: [], parameters: [{ ...up, found: true }] }],
    flown_by: [],
    earned: {},
    standings: [],
    needed: [],
  } as unknown as Catalogue;
  const found = figureAnswer("f1", 5000, { closes_with: answer("Nose up", 12, "12 deg") });
  it("stands where it would be typed, is stored when typed, and is found again when emptied", async () => {
    let now = roll;
    const change: Parameters<typeof FigureSettings>[0]["change"] = (edit) => {
      now = edit(draft([now])).plan.figures[0]!;
    };
    const form = () => (
      <FigureSettings planned={now} figure={found} catalogue={catalogue} change={change} editable unit="kt" />
    );
    const { rerender } = render(form(), { wrapper: Questions });
    const field = screen.getByLabelText(/Nose up/);
    expect(field).toHaveValue("");
    expect(field).toHaveAttribute("placeholder", "12");
    await userEvent.type(field, "20{Enter}");
    expect(now.parameters).toEqual({ line_deg: 20 });
    rerender(form());
    await userEvent.clear(field);
    await userEvent.keyboard("{Enter}");
    expect(now.parameters).toEqual({});
  });
});
