import { answer, draft, planned } from "../fixtures";
import {
  begin,
  changed,
  changedSheets,
  figureThatDiffers,
  redoable,
  redone,
  undoable,
  undone,
  withoutWrong,
  type Change,
  type Draft,
  type History,
} from "./draft";
import { addFigure, editFigure, freshId, override, placeFigure, removeFigure } from "./edits";
import { forget, keep, kept } from "./kept";

const LOOP = {
  key: "loop",
  name: "Loop",
  family: "looping",
  purpose: "",
  has_sides: false,
  faults: [],
  outcomes: [],
  parameters: [],
  schools: [],
};
const first: Draft = draft([planned("f1"), planned("f2")]);
const start = (d: Draft, id = "f1") => d.plan.figures.find((f) => f.id === id)?.start_ft;

describe("undo", () => {
  const higher = (h: History, ft: number, how: Change = {}) =>
    changed(h, editFigure("f1", { start_ft: ft })(h.now), { stage: "plan", ...how });
  const back = (h: History) => undone(h, "plan");

  it("takes back one change at a time and does it again", () => {
    const h = higher(higher(begin(first), 5200), 5400);
    expect(start(back(h).now)).toBe(5200);
    expect(start(back(back(h)).now)).toBe(5000);
    expect(start(redone(back(h), "plan").now)).toBe(5400);
  });
  it("counts one drag as one change, however long it is held", () => {
    let h = begin(first);
    for (const ft of [5050, 5100, 5150]) h = higher(h, ft, { gesture: "held 1", at: ft * 1000 });
    h = higher(h, 5300, { gesture: "held 2" });
    expect(start(back(h).now)).toBe(5150);
    expect(start(back(back(h)).now)).toBe(5000);
  });
  it("counts presses close together as one change, and presses far apart as two", () => {
    const at = (ft: number, ms: number) => (h: History) => higher(h, ft, { gesture: "keys f1", at: ms });
    const close = at(5100, 2499)(at(5050, 1000)(begin(first)));
    expect(start(back(close).now)).toBe(5000);
    const apart = at(5100, 2500)(at(5050, 1000)(begin(first)));
    expect(start(back(apart).now)).toBe(5050);
  });
  it("forgets what was undone when something else is done, and does nothing at either end", () => {
    let h = back(higher(begin(first), 1));
    h = changed(h, editFigure("f2", { start_ft: 2 })(h.now), { stage: "plan" });
    expect(redone(h, "plan")).toBe(h);
    expect(back(begin(first)).now).toBe(first);
  });
  it("belongs to the stage: what was done in Plan is not taken back in Debrief, nor done again there", () => {
    const h = higher(begin(first), 5200);
    expect(undoable(h, "debrief")).toBeNull();
    expect(undone(h, "debrief")).toBe(h);
    const noted = changed(
      h,
      { ...h.now, debrief: { note: "x", one_thing: "", moments: [], next: "" } },
      { stage: "debrief" },
    );
    expect(back(noted)).toBe(noted);
    expect(undone(noted, "debrief").now.debrief.note).toBe("");
    expect(redoable(back(h), "debrief")).toBeNull();
    expect(start(redone(back(h), "plan").now)).toBe(5200);
  });
  it("shows the figure that it takes back", () => {
    const before = begin(first);
    const after = higher(before, 5200);
    expect(figureThatDiffers(after.now, before.now)).toBe("f1");
    expect(
      figureThatDiffers(first, { ...first, debrief: { note: "x", one_thing: "", moments: [], next: "" } }),
    ).toBeNull();
  });
  it("knows whose version would be taken back", () => {
    expect(undoable(higher(begin(first), 5200, { from: "Cy" }), "plan")?.from).toBe("Cy");
  });
});

describe("what is right of a draft that was refused", () => {
  const wrong = (...where: string[]) => where.map((one) => ({ where: one }));
  const higher = editFigure("f1", { start_ft: 9, entry_ias: 70 })(first);

  it("is everything but the place that is wrong, which stays as it is stored", () => {
    const right = withoutWrong(first, higher, wrong("plan.figures[0].start_ft"));
    expect(right?.plan.figures[0]).toEqual({ ...first.plan.figures[0], entry_ias: 70 });
    expect(start(higher)).toBe(9);
    const day = { ...higher, plan: { ...higher.plan, day: { ...first.plan.day, qnh_hpa: 2000 } } };
    expect(withoutWrong(first, day, wrong("plan.day.qnh_hpa"))?.plan.day).toEqual(first.plan.day);
  });
  it("is everything but the entries that are wrong, where that was not enough", () => {
    const added = addFigure(LOOP, "f1", "f3")(editFigure("f2", { start_ft: 1 })(higher));
    const found = withoutWrong(
      first,
      added,
      wrong("plan.figures[0].start_ft", "plan.figures[1].side", "plan.figures[2]"),
      true,
    );
    expect(found).toBeNull();
    const kept = withoutWrong(first, added, wrong("plan.figures[1].start_ft"), true);
    expect(kept?.plan.figures.map((f) => [f.id, f.start_ft])).toEqual([
      ["f1", 9],
      ["f2", 1],
    ]);
  });
  it("is nothing where nothing is left, or where the place is not one of ours", () => {
    const one = editFigure("f1", { start_ft: 9 })(first);
    expect(withoutWrong(first, one, wrong("plan.figures[0].start_ft"))).toBeNull();
    expect(withoutWrong(first, one, wrong("stage"))).toBeNull();
    expect(withoutWrong(first, one, wrong("plan.figures[7].start_ft"))).toBeNull();
  });
});

describe("what a save sends", () => {
  it("is only the sheets that changed", () => {
    expect(changedSheets(first, first)).toEqual({});
    expect(
      Object.keys(
        changedSheets(first, { ...first, debrief: { note: "x", one_thing: "", moments: [], next: "" } }),
      ),
    ).toEqual(["debrief"]);
  });
});

describe("edits", () => {
  it("adds after the chosen figure, from its height, with an id of its own", () => {
    const id = freshId(["f1", "f2"], "f");
    const made = addFigure(LOOP, "f1", id)(first);
    expect(made.plan.figures.map((f) => f.id)).toEqual(["f1", "f3", "f2"]);
    expect(made.plan.figures[1]?.start_ft).toBe(5000);
    expect(freshId(["f1", "f3"], "f")).toBe("f4");
  });
  it("moves and removes, and stays inside the ends", () => {
    expect(placeFigure("f1", 1)(first).plan.figures.map((f) => f.id)).toEqual(["f2", "f1"]);
    expect(placeFigure("f1", -1)(first).plan.figures).toEqual(first.plan.figures);
    expect(removeFigure("f1")(first).plan.figures.map((f) => f.id)).toEqual(["f2"]);
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

describe("an override", () => {
  const stop = (id: string, room: number) => ({
    id,
    room,
    kind: "visibility" as const,
    verdict: "stop" as const,
    title: "Visibility",
    sentence: "",
    deciding: answer("Visibility", 2, "2.0 SM"),
    limit: null,
    spare: "1.0 SM short",
    hint: "",
    subject: "",
    change: "day" as const,
  });

  it("is one for each stop, for what is short when it is given", () => {
    const given = override(stop("cloud", -200), "Lower to the west only", "Bo")(first);
    const twice = override(stop("visibility", -1), "Tower reports 4 SM", "Bo")(given);
    const anew = override(stop("visibility", -1.5), "Tower reports 3 SM", "Bo")(twice);
    expect(anew.plan.overrides).toMatchObject([
      { check: "cloud", room: -200 },
      { check: "visibility", room: -1.5, number: "2.0 SM", reason: "Tower reports 3 SM" },
    ]);
  });
});
