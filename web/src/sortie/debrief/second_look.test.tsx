import { render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import type { Advice, Attempt, Catalogue, Proposal, Sortie } from "../../api/types";
import { attempt as noted, planned, sortie } from "../../fixtures";
import type { Edits } from "../../notes/entry";
import { GradeChoice } from "./GradeChoice";
import { OwnView } from "./OwnView";
import { SayOneThing } from "./SayOneThing";

const spin = noted(planned("f1"), {});
const advice: Advice = {
  says: "Rudder full, then the stick at once. 190 of the 460 ft beyond the best.",
  fault: "stick_late",
  worth_ft: 190,
  why: ["It counts for most of what the student can change.", "Third lesson in a row."],
};
const proposal: Proposal = {
  grade: "Guided",
  says: "Height beyond the brief 260 ft (Sound: at most 200 ft).",
  criteria: [
    {
      measure: "beyond_ft",
      label: "Height beyond the brief",
      value: "260 ft",
      limits: { Guided: "400 ft", Sound: "200 ft" },
      reaches: "Guided",
    },
  ],
  caps: [{ grade: "Sound", words: "Flown with talk." }],
  not_looked_at: [{ label: "To the first input", needs: "a recording would tell it" }],
};

describe("one thing to say", () => {
  function say(attempt: Attempt, onSheet = "", editable = true) {
    const edits: Edits[] = [];
    const sheet: string[] = [];
    render(
      <SayOneThing
        attempt={attempt}
        advice={advice}
        editable={editable}
        edit={(e) => edits.push(e)}
        onSheet={onSheet}
        toSheet={(words) => sheet.push(words)}
      />,
    );
    return { edits, sheet };
  }
  it("is what is proposed, with why it was chosen", async () => {
    const { sheet } = say(spin);
    expect(screen.getByText(advice.says)).toBeVisible();
    expect(screen.getByText(/Third lesson in a row/)).toBeVisible();
    await userEvent.click(screen.getByRole("button", { name: "To the student’s sheet" }));
    expect(sheet).toEqual([advice.says]);
  });
  it("is the instructor's own words once there are any, and as proposed again", async () => {
    const { edits, sheet } = say({ ...spin, said: "Feet first." });
    expect(screen.getByText("Feet first.")).toBeVisible();
    expect(screen.getByText(`In your words. Proposed: ${advice.says}`)).toBeVisible();
    await userEvent.click(screen.getByRole("button", { name: "To the student’s sheet" }));
    expect(sheet).toEqual(["Feet first."]);
    await userEvent.click(screen.getByRole("button", { name: "As proposed" }));
    expect(edits).toEqual([{ said: null }]);
  });
  it("is typed over what was proposed", async () => {
    const { edits } = say(spin);
    await userEvent.click(screen.getByRole("button", { name: "In your words" }));
    const field = screen.getByRole("textbox", { name: "In your words" });
    await userEvent.clear(field);
    await userEvent.type(field, "Feet, then hands.");
    await userEvent.click(screen.getByRole("button", { name: "Done" }));
    expect(edits).toEqual([{ said: "Feet, then hands." }]);
  });
  it("says when it stands on the sheet, and is not changed by those who may not", () => {
    say(spin, advice.says);
    expect(screen.getByText("On the student’s sheet")).toBeVisible();
  });
  it("has no keys for those who may not grade", () => {
    say(spin, "", false);
    expect(screen.queryByRole("button")).toBeNull();
  });
});

describe("the student's own view", () => {
  function view(attempt: Attempt, may: Partial<Sortie["may"]>, done = false) {
    const edits: Edits[] = [];
    render(
      <OwnView
        catalogue={undefined}
        attempt={attempt}
        student="Ana"
        may={{ ...sortie().may, grade: false, ...may }}
        done={done}
        edit={(e) => edits.push(e)}
      />,
    );
    return edits;
  }
  const given = { ...spin, own_grade: "Guided" as const, surprise: "so fast" };
  it("is asked first", async () => {
    const edits = view(spin, { own_view: true });
    expect(screen.getByText("Your own view, before we talk")).toBeVisible();
    await userEvent.click(screen.getByRole("button", { name: "Guided" }));
    await userEvent.type(screen.getByRole("textbox", { name: "What surprised most" }), "so fast");
    await userEvent.tab();
    expect(edits).toEqual([{ own_grade: "Guided" }, { surprise: "so fast" }]);
  });
  it("is not seen by the instructor who has not graded", () => {
    view(given, { grade: true });
    expect(screen.getByText("Ana has said how it was. It is shown when you have graded.")).toBeVisible();
    expect(screen.queryByText(/so fast/)).toBeNull();
    expect(screen.queryByText(/Guided/)).toBeNull();
  });
  it("stands beside the instructor's grade", () => {
    view({ ...given, grade: "Sound" }, { grade: true });
    expect(screen.getByText("Ana, before we talked")).toBeVisible();
    expect(screen.getByText(/“so fast”/)).toHaveTextContent("Guided. “so fast”");
  });
  it("is asked by the instructor where the student has no device", () => {
    view(spin, { grade: true });
    expect(screen.getByText("First ask Ana")).toBeVisible();
  });
  it("stays open while it is being asked, and closes with the next figure", async () => {
    const edits: Edits[] = [];
    const shown = (attempt: Attempt) => (
      <OwnView
        catalogue={undefined}
        attempt={attempt}
        student="Ana"
        may={{ ...sortie().may, grade: true }}
        done={false}
        edit={(e) => edits.push(e)}
      />
    );
    const { rerender } = render(shown(spin));
    await userEvent.type(screen.getByRole("textbox", { name: "What surprised most" }), "so fast");
    await userEvent.tab();
    rerender(shown({ ...spin, surprise: "so fast" }));
    await userEvent.click(screen.getByRole("button", { name: "Guided" }));
    expect(edits).toEqual([{ surprise: "so fast" }, { own_grade: "Guided" }]);
  });
  it("is nothing for those who may neither give nor ask it", () => {
    view(spin, {});
    expect(screen.queryByRole("region")).toBeNull();
  });
});

describe("the grade", () => {
  const catalogue = {
    earned: { "student with talk": ["Not yet", "Guided", "Sound"], "instructor shows": ["Shown"] },
  } as unknown as Catalogue;
  function grade(attempt: Attempt, editable = true, proposed: Proposal | null = proposal) {
    const edits: Edits[] = [];
    render(
      <GradeChoice
        attempt={attempt}
        catalogue={catalogue}
        proposal={proposed}
        editable={editable}
        edit={(e) => edits.push(e)}
      />,
    );
    return edits;
  }
  it.each([
    ["student with talk", null, ["Not yet", "Guided", "Sound"]],
    ["instructor shows", null, ["Shown"]],
    // What was set before it was noted who flew is there to be seen.
    ["instructor shows", "Sound", ["Shown", "Sound"]],
  ] as const)("is one that '%s' earns", (flown_by, set, offered) => {
    grade({ ...spin, flown_by, grade: set });
    const group = within(screen.getByRole("group", { name: "Grade" }));
    expect(group.getAllByRole("button").map((b) => b.getAttribute("value"))).toEqual(offered);
  });
  it("is proposed with what keeps it from the next, and decided by the instructor", async () => {
    const edits = grade(spin);
    expect(screen.getByText("Proposed: Guided")).toBeVisible();
    expect(screen.getByText(/260 ft \(Sound: at most 200 ft\)/)).toBeVisible();
    await userEvent.click(screen.getByRole("button", { name: /^Sound/ }));
    expect(edits).toEqual([{ grade: "Sound" }]);
  });
  it("shows both where the instructor's is another", () => {
    grade({ ...spin, grade: "Sound" });
    expect(screen.getByText("Proposed Guided.")).toBeVisible();
  });
  it("lays out every criterion beside what each grade asks, and what could not be looked at", async () => {
    grade(spin);
    await userEvent.click(screen.getByRole("button", { name: "By what" }));
    const row = within(screen.getByRole("row", { name: /Height beyond the brief/ }));
    expect(row.getAllByRole("cell").map((cell) => cell.textContent)).toEqual([
      "260 ft",
      "400 ft",
      "200 ft",
      "–",
    ]);
    expect(screen.getByText("No higher than Sound: Flown with talk.")).toBeVisible();
    expect(screen.getByText(/To the first input \(a recording would tell it\)/)).toBeVisible();
  });
  it("asks why a take-over is graded above Guided", async () => {
    const edits = grade({ ...spin, taken_over_ft: 4000, grade: "Sound" });
    const field = screen.getByRole("textbox", { name: "Taken over: why this grade" });
    expect(screen.getByText(/needs a reason/)).toBeVisible();
    await userEvent.type(field, "for traffic");
    await userEvent.tab();
    expect(edits).toEqual([{ grade_reason: "for traffic" }]);
  });
  it.each([
    [{ grade: "Sound" }, "Guided", true],
    [{ grade: "Not yet" }, "Guided", true],
    [{ grade: "Guided" }, "Guided", false],
    [{ grade: null }, "Guided", false],
    [{ grade: "Sound", grade_reason: "A gust" }, "Guided", false],
    // A recording proposes Guided, and the notes alone come to what was given.
    [{ grade: "Sound" }, "Sound", false],
    [{ grade: "Sound" }, null, false],
  ] as const)("says of %o, where %s counts without a reason, so: %s", (noted, counts, said) => {
    grade({ ...spin, ...noted }, true, { ...proposal, counts });
    expect(screen.queryByText(/Without a reason Guided counts in progress/) !== null).toBe(said);
  });
  it("asks nothing of a take-over that is Guided", () => {
    grade({ ...spin, taken_over_ft: 4000, grade: "Guided" });
    expect(screen.queryByRole("textbox")).toBeNull();
  });
  it("is Which grade where nothing can be proposed", () => {
    grade(spin, false, null);
    expect(screen.getByText("Which grade?")).toBeVisible();
    expect(screen.getByRole("button", { name: /^Sound/ })).toBeDisabled();
  });
});
