import { render, screen, within } from "@testing-library/react";
import { useState } from "react";
import userEvent from "@testing-library/user-event";
import { answer, figureAnswer, planAnswer } from "../fixtures";
import { Questions } from "../Questions";
import { aboutOf } from "../strip/Asked";
import { WhyNumber } from "./WhyNumber";
import { WhyPanel } from "./WhyPanel";
import { WhyContext } from "./why";
import { HillPicture } from "./HillPicture";
import type { Answer, Working } from "../api/types";

const hill = { least: 500, step: 50, counts: [1, 4, 3, 0, 2], usual: 570, beyond: 3 };

describe("the hill", () => {
  it("says who is in it, and paints what lies beyond the limit in another colour", () => {
    const worst = answer("Loss 19 times in 20", 690, "690 ft");
    const { container } = render(<HillPicture answer={worst} hill={hill} />);
    expect(screen.getByRole("img")).toHaveAccessibleName(
      "13 pilots: the usual one 570 ft, loss 19 times in 20 690 ft",
    );
    expect(screen.getByText(/13 pilots of the population flew it; 3 never got out/)).toBeVisible();
    const fills = [...container.querySelectorAll("rect")].map((r) => r.getAttribute("fill"));
    // Columns from 500, 550, 600 and 700: the empty one is not drawn, the last lies beyond 690.
    expect(fills).toHaveLength(4);
    expect(new Set(fills.slice(0, 3)).size).toBe(1);
    expect(fills[3]).not.toBe(fills[0]);
    expect(screen.getByText("usual 570 ft")).toBeVisible();
    expect(screen.getByText("limit 690 ft")).toBeVisible();
  });
});

describe("the panel", () => {
  const panel = (root: Working, opened = 1) => (
    <WhyPanel answer={root} opened={opened} over={false} onLook={() => undefined} onClose={() => undefined} />
  );
  it("names the pilot behind a loss apart from its parts", async () => {
    const delay: Working = {
      ...answer("Seeing it to first input", 0.9, "0.9 s"),
      source: { kind: "common practice", words: "the usual student of the population" },
    };
    const loss = { ...answer("Likely loss", 460, "460 ft", [answer("Pull-out", 270)]), pilot: [delay] };
    render(panel(loss), { wrapper: Questions });
    const behind = (await screen.findByRole("heading", { name: "The pilot behind it" })).parentElement!;
    expect(within(behind).getByText("0.9 s")).toBeVisible();
    expect(within(behind).getByText(/the usual student of the population/)).toBeVisible();
    expect(within(behind).queryByText("Pull-out")).toBeNull();
  });
  it("stays where it was walked to when the number changes under it, and leaves the focus alone", async () => {
    const root = (floor: number) =>
      answer("Lowest start", 4000 + floor, undefined, [
        answer("Floor", floor, undefined, [answer("School", floor - 10)]),
      ]);
    const { rerender } = render(panel(root(3010)), { wrapper: Questions });
    await userEvent.click(await screen.findByRole("button", { name: /^Floor/ }));
    const close = screen.getByRole("button", { name: /^Close/ });
    close.focus();
    rerender(panel(root(3510)));
    expect(await screen.findByText("3,500 ft")).toBeVisible();
    expect(screen.getByRole("button", { name: "Back to Lowest start" })).toBeVisible();
    expect(document.activeElement).toBe(close);
  });
});

it("a number that was asked about tells its new value when it changes, another one does not", async () => {
  const followed: string[] = [];
  let opened = "";
  const why = {
    open: (_: Answer, id: string) => void (opened = id),
    follow: (a: Answer, id: string) => void (id === opened && followed.push(a.shown)),
  };
  function Two() {
    const [n, set] = useState(1);
    return (
      <WhyContext value={why}>
        <WhyNumber answer={answer("Floor", n * 1000)} />
        <WhyNumber answer={answer("Start", n * 2000)} />
        <button onClick={() => set(3)}>change</button>
      </WhyContext>
    );
  }
  render(<Two />);
  await userEvent.click(screen.getByRole("button", { name: /^Floor/ }));
  await userEvent.click(screen.getByRole("button", { name: "change" }));
  expect(followed).toEqual(["3,000 ft"]);
});

describe("what a number stands for on the strip", () => {
  const figure = figureAnswer("f1"),
    plan = planAnswer([figure, figureAnswer("f2")]);
  const about = (a: Answer, label = a.label) => aboutOf(plan, { answer: a, label });
  it("a height lies across its figure, a loss hangs from the start, a floor lies across all", () => {
    expect(about(figure.lowest_start)).toMatchObject({ kind: "height", feet: 4300, figure: { id: "f1" } });
    expect(about(figure.worst)).toEqual({ kind: "spent", figure, from: 5000, to: 3800 });
    expect(about(figure.likely)).toMatchObject({ from: 5000, to: 4000 });
    expect(about(plan.floor)).toEqual({ kind: "across", feet: plan.floor.value });
    expect(about(figure.entry)).toMatchObject({ kind: "height", feet: 5000 });
  });
  it("an input that is looked at is marked where it has a place of its own", () => {
    expect(about(figure.lowest_start, "My controls")).toMatchObject({ kind: "height", feet: 3700 });
    expect(about(figure.lowest_start, "Floor")).toEqual({ kind: "across", feet: 3000 });
    expect(about(figure.lowest_start, "Altimeter and reading it")).toMatchObject({ feet: 4300 });
  });
  it("another number of a figure frames it, one of nowhere marks nothing", () => {
    expect(about(figure.joined.climb)).toMatchObject({ kind: "figure", figure: { id: "f1" } });
    expect(about(answer("Weight", 1500))).toBeNull();
  });
});
