import { draft, planned } from "../fixtures";
import { begin, changed, changedSheets, redone, undone, type Draft } from "./draft";
import { addFigure, editAttempt, editFigure, freshId, placeFigure, removeFigure, withAttempt } from "./edits";
import { forget, keep, kept } from "./kept";

const first: Draft = draft([planned("f1"), planned("f2")]);
const start = (d: Draft, id = "f1") => d.plan.figures.find((f) => f.id === id)?.start_ft;

describe("undo", () => {
  it("takes back one change at a time and does it again", () => {
    let h = begin(first);
    h = changed(h, editFigure("f1", { start_ft: 5200 })(h.now));
    h = changed(h, editFigure("f1", { start_ft: 5400 })(h.now));
    expect(start(undone(h).now)).toBe(5200);
    expect(start(undone(undone(h)).now)).toBe(5000);
    expect(start(redone(undone(h)).now)).toBe(5400);
  });
  it("counts one drag as one change", () => {
    let h = begin(first);
    for (const ft of [5050, 5100, 5150]) h = changed(h, editFigure("f1", { start_ft: ft })(h.now), "drag 1");
    h = changed(h, editFigure("f1", { start_ft: 5300 })(h.now), "drag 2");
    expect(start(undone(h).now)).toBe(5150);
    expect(start(undone(undone(h)).now)).toBe(5000);
  });
  it("forgets what was undone when something else is done, and does nothing at either end", () => {
    let h = undone(changed(begin(first), editFigure("f1", { start_ft: 1 })(first)));
    h = changed(h, editFigure("f2", { start_ft: 2 })(h.now));
    expect(redone(h)).toBe(h);
    expect(undone(begin(first)).now).toBe(first);
  });
});

describe("what a save sends", () => {
  it("is only the sheets that changed", () => {
    expect(changedSheets(first, first)).toEqual({});
    expect(Object.keys(changedSheets(first, { ...first, debrief: { note: "x", next: "" } }))).toEqual([
      "debrief",
    ]);
  });
});

describe("edits", () => {
  it("adds after the chosen figure, from its height, with an id of its own", () => {
    const id = freshId(["f1", "f2"], "f");
    const made = addFigure(
      { key: "nose_low", name: "", family: "", purpose: "", has_sides: true, parameters: [], schools: [] },
      "f1",
      id,
    )(first);
    expect(made.plan.figures.map((f) => f.id)).toEqual(["f1", "f3", "f2"]);
    expect(made.plan.figures[1]?.start_ft).toBe(5000);
    expect(freshId(["f1", "f3"], "f")).toBe("f4");
  });
  it("moves and removes, and stays inside the ends", () => {
    expect(placeFigure("f1", 1)(first).plan.figures.map((f) => f.id)).toEqual(["f2", "f1"]);
    expect(placeFigure("f1", -1)(first).plan.figures).toEqual(first.plan.figures);
    expect(removeFigure("f1")(first).plan.figures.map((f) => f.id)).toEqual(["f2"]);
  });
  it("makes an attempt once and keeps attempts in the order of the plan", () => {
    const second = withAttempt(first, planned("f2"));
    const both = withAttempt(second.draft, planned("f1", { flown_by: "instructor shows" }));
    expect(both.draft.attempts.map((a) => [a.planned.id, a.flown_by])).toEqual([
      ["f1", "instructor shows"],
      ["f2", "student with talk"],
    ]);
    expect(withAttempt(both.draft, planned("f2")).attempt.id).toBe(second.attempt.id);
    expect(editAttempt(second.attempt.id, { feel: 7 })(both.draft).attempts[1]?.feel).toBe(7);
  });
});

describe("kept in the browser", () => {
  it("comes back after a reload and is forgotten when stored", () => {
    keep(7, 3, first);
    expect(kept(7)).toEqual({ version: 3, draft: first });
    forget(7);
    expect(kept(7)).toBeNull();
    localStorage.setItem("keelturn.sortie.7", "{half");
    expect(kept(7)).toBeNull();
  });
});
