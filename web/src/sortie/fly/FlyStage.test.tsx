import { act, cleanup, createEvent, fireEvent, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { answer, figureAnswer, planned, sortie } from "../../fixtures";
import { NoteStore, storeOf } from "../../notes/store";
import { attempts, breath, briefed, entries, fly, key, later, person, press } from "./flying.fixtures";

beforeEach(() => {
  // The clock by which a bounce is known; what is typed takes its own time.
  vi.useFakeTimers({ toFake: ["performance"] });
});

describe("Fly", () => {
  it("notes a figure that went as planned with five taps, each on the key that is next", async () => {
    fly();
    for (const name of ["At the gate", "Recover", "Lowest", "Level"]) {
      await userEvent.click(key(name));
      breath();
    }
    await press("Feel 8");
    expect(attempts).toMatchObject([
      { id: "f1", start_ft: 5000, recover_ft: 4600, lowest_ft: 4000, level_ft: 4000, feel: 8 },
    ]);
    expect(screen.getByRole("group", { name: "Faults" })).toBeVisible();
    expect(entries.filter((e) => e.what !== "figure")).toHaveLength(5);
  });
  it("does not take the next key for the bounce of a thumb", () => {
    fly();
    fireEvent.click(key("At the gate"));
    vi.advanceTimersByTime(290);
    fireEvent.click(key("Recover"));
    expect(attempts[0]).toMatchObject({ start_ft: 5000, recover_ft: null });
    vi.advanceTimersByTime(20);
    fireEvent.click(key("Recover"));
    expect(attempts[0]?.recover_ft).toBe(4600);
  });
  it("takes the next key at once where its arrows were pressed first: that is no bounce", () => {
    fly();
    fireEvent.click(key("At the gate"));
    vi.advanceTimersByTime(100);
    fireEvent.keyDown(key("Recover"), { key: "ArrowDown" });
    fireEvent.click(key("Recover"));
    expect(attempts[0]?.recover_ft).toBe(4580);
  });
  it("takes a height that was slid when the thumb is lifted, and only then", () => {
    fly();
    const gate = key("At the gate");
    fireEvent(gate, later(createEvent.pointerDown(gate, { clientY: 500, isPrimary: true }), 1));
    fireEvent(gate, later(createEvent.pointerMove(gate, { clientY: 472 }), 61));
    expect(key("At the gate")).toHaveAccessibleName(/5,040 tap as you call it/);
    expect(attempts).toEqual([]);
    fireEvent.pointerUp(gate);
    fireEvent.click(gate);
    expect(entries.filter((e) => e.what === "start_ft")).toHaveLength(1);
    expect(attempts[0]?.recover_ft).toBeNull();
  });
  it("is used by keys alone: arrows move the height, enter takes it", async () => {
    fly();
    key("At the gate").focus();
    await userEvent.keyboard("{ArrowUp}{ArrowUp}{PageDown}");
    expect(attempts).toEqual([]);
    await userEvent.keyboard("{Enter}");
    expect(attempts[0]?.start_ft).toBe(4940);
  });
  it("corrects any height by going back to it, as a later entry", async () => {
    fly();
    await userEvent.click(key("At the gate"));
    await press(/^gate/);
    key("At the gate").focus();
    breath();
    await userEvent.keyboard("{ArrowDown}{Enter}");
    expect(attempts[0]?.start_ft).toBe(4980);
    const [first, second] = entries.filter((e) => e.what === "start_ft");
    expect(second?.replaces).toEqual([first?.id]);
    expect(key("Recover")).toBeVisible();
  });
  it("flies a figure again, and to the other side, as goes of their own", async () => {
    fly();
    await userEvent.click(key("At the gate"));
    await press("Again");
    expect(screen.getByRole("heading", { name: "Spin f1, go 2" })).toBeVisible();
    breath();
    await userEvent.click(key("At the gate"));
    await press("Other side");
    breath();
    await userEvent.click(key("At the gate"));
    expect(attempts.map((a) => [a.id, a.planned.side])).toEqual([
      ["f1", "left"],
      ["f1.2", "left"],
      ["f1.3", "right"],
    ]);
    expect(screen.getByRole("heading", { name: "Spin f1, right, go 3" })).toBeVisible();
  });
  it("turns a go that has not begun to the other side, and does not make another of it", async () => {
    fly();
    await press("Other side");
    await userEvent.click(key("At the gate"));
    expect(attempts.map((a) => [a.id, a.planned.side])).toEqual([["f1", "right"]]);
  });
  it("notes a take-over with its height, which can be corrected", async () => {
    fly();
    await press(/^My controls/);
    expect(attempts[0]?.taken_over_ft).toBe(3700);
    key("Taken over").focus();
    await userEvent.keyboard("{ArrowUp}{Enter}");
    expect(attempts[0]?.taken_over_ft).toBe(3720);
    expect(entries.filter((e) => e.what === "taken_over_ft")).toHaveLength(2);
  });
  it("takes back and does again", async () => {
    fly();
    await userEvent.click(key("At the gate"));
    await press("Undo");
    expect(attempts).toEqual([]);
    expect(entries.filter((e) => e.what === "start_ft").map((e) => e.value)).toEqual([5000, null]);
  });
  it("notes faults, what became of it, turns, g and who flew", async () => {
    const first = briefed();
    const figures = first.answer.figures.map((f) => ({ ...f, turns_allowed: answer("Turns", 3) }));
    fly({ ...first, answer: { ...first.answer, figures } });
    await press(/^faults/);
    await press("Timid pull");
    await press("More turns");
    await press("Less most g");
    expect(attempts[0]).toMatchObject({ faults: ["soft_pull"], turns: 1.5, most_g: 2.4 });
    await press("Timid pull");
    expect(attempts[0]?.faults).toEqual([]);
    await press(/^Who flies/);
    await userEvent.click(screen.getByRole("menuitem", { name: "student with talk" }));
    expect(attempts[0]?.flown_by).toBe("student with talk");
  });
  it("skips and breaks off from the list, and goes to any figure", async () => {
    fly();
    await press("List");
    const panel = within(screen.getByRole("dialog"));
    await userEvent.click(panel.getByRole("button", { name: "Skip this figure" }));
    expect(attempts[0]?.skipped).toBe(true);
    await userEvent.type(panel.getByRole("textbox", { name: "Broken off: why" }), "cloud below");
    // The thumb goes on at once.
    const list = panel.getByRole("list", { name: "Figures" });
    await userEvent.click(within(list).getByRole("button", { name: /Spin f2/ }));
    expect(attempts).toMatchObject([{ id: "f1", skipped: true, abandoned: "cloud below" }]);
    expect(screen.getByRole("heading", { name: "Spin f2" })).toBeVisible();
  });
  it.each([
    ["Back to the figure", () => press("Back to the figure")],
    ["Landed", () => press(/^Landed: /)],
    ["nothing, as the page is taken away,", () => Promise.resolve(cleanup())],
  ])("keeps the reason that was typed last where %s is pressed at once", async (_, go) => {
    fly();
    await press("List");
    await userEvent.type(screen.getByRole("textbox", { name: "Broken off: why" }), "cloud");
    await go();
    const noted = storeOf(person)
      .of(7)
      .map((kept) => kept.entry);
    expect(noted).toContainEqual(
      expect.objectContaining({ attempt: "f1", what: "abandoned", value: "cloud" }),
    );
  });
  it("stays at the figure that is worked on, however late the device has read its entries", async () => {
    let read = () => undefined as void;
    vi.spyOn(NoteStore.prototype, "load").mockReturnValueOnce(new Promise<void>((done) => (read = done)));
    fly();
    await press("List");
    await press("Skip this figure");
    await act(() => Promise.resolve(read()));
    expect(screen.getByRole("textbox", { name: "Broken off: why" })).toBeVisible();
    await userEvent.type(screen.getByRole("textbox", { name: "Broken off: why" }), "cloud");
    await press("Back to the figure");
    expect(attempts).toMatchObject([{ id: "f1", skipped: true, abandoned: "cloud" }]);
  });
  it("says what is missing before its time, and takes nothing", () => {
    fly(sortie({ missing: { briefed: ["Tick 'Comfort' on the before-flight list."] } }));
    expect(screen.getByText("Tick 'Comfort' on the before-flight list.")).toBeVisible();
    expect(key("At the gate")).toBeDisabled();
    expect(screen.getByRole("button", { name: /^My controls/ })).toBeDisabled();
  });
});

describe("a line that is crossed", () => {
  async function low() {
    fly();
    await press(/^lowest/);
    key("Lowest").focus();
    await userEvent.keyboard("{PageDown}{PageDown}{PageDown}{PageDown}{PageDown}{PageDown}{PageDown}");
    await userEvent.keyboard("{PageDown}{PageDown}{PageDown}{PageDown}{Enter}");
  }
  it("takes the whole screen until it is seen, and stays on the record", async () => {
    await low();
    const stop = screen.getByRole("alertdialog", { name: "Below floor" });
    expect(within(stop).getByText("2,900 ft noted")).toBeVisible();
    expect(within(stop).getByText("Climb.")).toBeVisible();
    await press("Seen");
    expect(screen.queryByRole("alertdialog")).toBeNull();
    expect(attempts[0]?.stops).toEqual([{ kind: "floor", value: 2900 }]);
    // Undo is about the height before it: what was seen stays seen.
    await press("Undo");
    expect(attempts[0]).toMatchObject({ lowest_ft: null, stops: [{ kind: "floor", value: 2900 }] });
  });
  it("is no stop where the number was wrong: it is corrected first", async () => {
    await low();
    await press("Wrong number");
    expect(screen.queryByRole("alertdialog")).toBeNull();
    key("Lowest").focus();
    await userEvent.keyboard(
      "{PageUp}{PageUp}{PageUp}{PageUp}{PageUp}{PageUp}{PageUp}{PageUp}{PageUp}{Enter}",
    );
    expect(attempts[0]).toMatchObject({ lowest_ft: 3800, stops: [] });
  });
  it("comes back where the number was left as it is", async () => {
    await low();
    await press("Wrong number");
    await press(/^Next/);
    expect(screen.getByRole("alertdialog", { name: "Below floor" })).toBeVisible();
  });
  it("is told of the student's number", async () => {
    fly();
    await press(/^feel/);
    await press("Feel 4");
    expect(screen.getByRole("alertdialog", { name: "Below feel" })).toBeVisible();
  });
  it("is no matter of a flight that is over", async () => {
    fly(briefed({ stage: "flown" }));
    await press(/Back to the figure/);
    await press(/^feel/);
    await press("Feel 4");
    await waitFor(() => expect(attempts[0]?.feel).toBe(4));
    expect(screen.queryByRole("alertdialog")).toBeNull();
  });
});

describe("What is accepted as the key offers it", () => {
  it("is known from what a thumb, an arrow or a recorder has moved", async () => {
    fly();
    await userEvent.click(key("At the gate"));
    expect(attempts[0]).toMatchObject({ start_ft: 5000, offered: ["start_ft"] });
    key("Recover").focus();
    await userEvent.keyboard("{ArrowDown}");
    await userEvent.click(key("Recover"));
    expect(attempts[0]?.offered).toEqual(["start_ft"]);
    expect(attempts[0]?.recover_ft).toBe(4580);
  });
});

describe("Set-ups for closed eyes", () => {
  it("come after the plan, with how they are brought about and the first input that is right", async () => {
    const made = briefed();
    const one = {
      planned: planned("set-up-1", { key: "nose_low", side: "left", start_ft: 3700 }),
      how: "45° of bank to the left.",
      first_input: "Throttle closed, roll.",
      answer: figureAnswer("set-up-1", 3700, { title: "Nose-low recovery, left" }),
    };
    fly({ ...made, answer: { ...made.answer, drawn: { asked: 1, set_ups: [one], fewer: [] } } });
    await press(/^Next/);
    await press(/^Next/);
    expect(screen.getByText("eyes closed, 1 of 1")).toBeVisible();
    expect(screen.getByText(/45° of bank/)).toHaveTextContent("Right: Throttle closed, roll.");
    expect(key("At the gate")).toHaveAccessibleName(/3,700/);
    await userEvent.click(key("At the gate"));
    expect(attempts.at(-1)).toMatchObject({ id: "set-up-1", planned: one.planned, start_ft: 3700 });
    expect(screen.getByText("eyes closed, 1 of 1")).toBeVisible();
    for (const name of ["Recover", "Lowest", "Level"]) {
      breath();
      await userEvent.click(key(name));
    }
    await press("Feel 8");
    // Opened again it is where the flight was: nothing comes after the last set-up.
    cleanup();
    fly({
      ...made,
      attempts,
      entries: [...entries],
      answer: { ...made.answer, drawn: { asked: 1, set_ups: [one], fewer: [] } },
    });
    await waitFor(() => expect(screen.getByText("eyes closed, 1 of 1")).toBeVisible());
  });
});
