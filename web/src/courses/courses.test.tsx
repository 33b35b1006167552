import { ThemeProvider } from "@mui/material";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import type { Course, CourseDocument } from "../api/types";
import { inZone } from "../frame/dates";
import { theme } from "../look";
import { CourseEditor } from "./CourseEditor";
import { CourseSheet } from "./CourseSheet";
import { moved, nameInFiles, NEW_COURSE, newTask, withoutGround, withoutTask } from "./edit";

const DOCUMENT: CourseDocument = {
  ...NEW_COURSE,
  key: "small",
  name: "Small",
  purpose: "To see",
  flight_h: 3,
  tasks: [
    { ...newTask("stall", []), within_ft: 100 },
    { ...newTask("spin", []), after: ["stall"], words: "In order" },
  ],
  ground: [{ key: "manual", words: "The manual", hours: 0.5 }],
  lessons: [
    {
      key: "small_one",
      name: "One",
      purpose: "",
      standing: "first flights",
      tasks: [
        { task: "stall", side: "left", flown_by: "instructor shows" },
        { task: "spin", side: "right", flown_by: "student alone" },
      ],
      ground: ["manual"],
    },
  ],
};
const HELD: Course = {
  key: "small",
  version: 3,
  by: "Morag",
  at: "2026-05-01T09:00:00Z",
  students: 2,
  earlier: 1,
  titles: { stall: "Power-off stall", spin: "One-turn spin" },
  flown: { small_one: ["Power-off stall: shown", "One-turn spin, right: alone"] },
  course: DOCUMENT,
};
const figure = (key: string, name: string, has_sides: boolean) => ({
  key,
  name,
  family: "Any",
  has_sides,
  schools: [],
  parameters: has_sides
    ? [{ name: "turns", label: "Turns", unit: "turns", usual: 1, least: 0.25, most: 6, switch: false }]
    : [],
});

it("takes out what named what was taken out", () => {
  const without = withoutTask(DOCUMENT, 0);
  expect(without.tasks.map((t) => [t.key, t.after])).toEqual([["spin", []]]);
  expect(without.lessons[0]?.tasks.map((t) => t.task)).toEqual(["spin"]);
  expect(withoutGround(DOCUMENT, 0).lessons[0]?.ground).toEqual([]);
});

it("moves an entry by one and gives names in files that are free", () => {
  expect(moved(["a", "b", "c"], 0, 1)).toEqual(["b", "a", "c"]);
  expect(moved(["a", "b"], 0, -1)).toEqual(["a", "b"]);
  expect(nameInFiles("One-turn spin, left!", [])).toBe("one_turn_spin_left");
  expect(nameInFiles("Spin", ["spin", "spin_2"])).toBe("spin_3");
  expect(nameInFiles("!", [])).toBe("new");
});

it("reads a course: lessons in order with the side where there is one, tasks with what they ask", () => {
  render(<CourseSheet held={HELD}>{null}</CourseSheet>);
  const lessons = screen.getByRole("region", { name: "Lessons" });
  expect(within(lessons).getByText("Power-off stall: shown")).toBeVisible();
  expect(within(lessons).getByText("One-turn spin, right: alone")).toBeVisible();
  expect(within(lessons).getByText(/From the standing/)).toHaveTextContent(
    "on the ground before it: The manual",
  );
  const row = screen.getByRole("row", { name: /Power-off stall sound/ });
  expect(row).toHaveTextContent("100 ft");
});

const sent: { method: string; url: string; body: { version: number; course: CourseDocument } }[] = [];
let refusals: unknown[] = [];

function edit(held: Course | null = HELD, start: CourseDocument = DOCUMENT) {
  inZone("utc");
  sent.length = 0;
  const closed = vi.fn<() => void>();
  vi.stubGlobal("fetch", async (request: Request) => {
    const url = new URL(request.url).pathname;
    const json = (body: unknown, status = 200) =>
      new Response(JSON.stringify(body), { status, headers: { "content-type": "application/json" } });
    if (url === "/api/catalogue")
      return json({
        figures: [figure("stall", "Stall", false), figure("spin", "Spin", true)],
        needed: ["guided", "sound", "ready"],
        standings: ["first flights", "practised"],
        flown_by: ["instructor shows", "student with talk", "student alone"],
      });
    if (url.endsWith("/versions"))
      return json([
        {
          version: 4,
          by: "Ilse",
          at: "2026-05-02T09:00:00Z",
          differs: [{ kind: "changed", what: "Course, name", before: "Small", after: "Smaller" }],
        },
      ]);
    sent.push({ method: request.method, url, body: (await request.json()) as (typeof sent)[0]["body"] });
    const refusal = refusals.shift();
    return refusal ? json({ problems: [refusal] }, 422) : json({ ...HELD, version: 4 });
  });
  render(
    <ThemeProvider theme={theme}>
      <QueryClientProvider client={new QueryClient()}>
        <CourseEditor held={held} start={start} onClose={closed} />
      </QueryClientProvider>
    </ThemeProvider>,
  );
  return closed;
}
afterEach(() => {
  refusals = [];
});

const press = (name: string | RegExp) => userEvent.click(screen.getByRole("button", { name }));
const choose = async (label: string | RegExp, option: string) => {
  await userEvent.click(screen.getByRole("combobox", { name: label }));
  await userEvent.click(await screen.findByRole("option", { name: option }));
};

it("stores what was changed of a task as the next version", async () => {
  const closed = edit();
  await press("Tasks");
  await userEvent.click(await screen.findByRole("button", { name: "2. Spin" }));
  await choose("Needed", "ready");
  await choose("Side", "left");
  await userEvent.type(screen.getByRole("textbox", { name: "Turns, turns" }), "2{Enter}");
  await press("Store as the next version");
  expect(sent).toHaveLength(1);
  expect(sent[0]).toMatchObject({ method: "PUT", url: "/api/courses/small", body: { version: 3 } });
  expect(sent[0]?.body.course.tasks[1]).toMatchObject({
    key: "spin",
    needed: "ready",
    side: "left",
    settings: { turns: 2 },
  });
  expect(closed).toHaveBeenCalled();
});

it("adds a lesson with a figure, flown as it is said, and moves it first", async () => {
  edit();
  await press("Lessons");
  await press("Add a lesson");
  await userEvent.clear(screen.getByRole("textbox", { name: "Name" }));
  await userEvent.type(screen.getByRole("textbox", { name: "Name" }), "Two");
  await press("Add a figure");
  await choose("Figure 1", "Spin");
  await choose("Side", "right");
  await choose("Who flies", "student alone");
  await press("Two earlier");
  await press("Store as the next version");
  expect(sent[0]?.body.course.lessons.map((l) => [l.key, l.name])).toEqual([
    ["small_lesson", "Two"],
    ["small_one", "One"],
  ]);
  expect(sent[0]?.body.course.lessons[0]?.tasks).toEqual([
    { task: "spin", side: "right", flown_by: "student alone" },
  ]);
});

it("keeps what was drawn up where it is refused, and says where", async () => {
  const closed = edit();
  refusals = [
    { where: "course.tasks[0]", place: "Tasks 1", what: "no lesson has it", do: "Put it into one." },
  ];
  await userEvent.type(screen.getByRole("textbox", { name: "Name" }), "er");
  await press("Store as the next version");
  expect(await screen.findByText("Tasks 1: no lesson has it. Put it into one.")).toBeVisible();
  expect(screen.getByRole("textbox", { name: "Name" })).toHaveValue("Smaller");
  expect(closed).not.toHaveBeenCalled();
});

it("shows what another chief stored meanwhile, and stores on top of it knowingly", async () => {
  const closed = edit();
  refusals = [
    { where: "version", place: "Version", what: "this was changed meanwhile", do: "Read it again." },
  ];
  await userEvent.type(screen.getByRole("textbox", { name: "Purpose" }), " it");
  await press("Store as the next version");
  const meanwhile = await screen.findByRole("region", { name: "Changed meanwhile" });
  expect(meanwhile).toHaveTextContent("Version 4, Ilse:");
  expect(meanwhile).toHaveTextContent("Course, name: Small → Smaller");
  await press("Take mine on top of it, as it stands here");
  await press("Store as the next version");
  expect(sent.map((s) => s.body.version)).toEqual([3, 4]);
  expect(sent[1]?.body.course.purpose).toBe("To see it");
  expect(closed).toHaveBeenCalled();
});

it("gives a new course its name in files, and asks before it is dropped", async () => {
  const closed = edit(null, NEW_COURSE);
  expect(screen.getByRole("button", { name: "Store the course" })).toBeDisabled();
  await userEvent.type(screen.getByRole("textbox", { name: "Name" }), "Gliding upsets");
  await press("Leave it as it was");
  expect(closed).not.toHaveBeenCalled();
  await press("Go on with it");
  await press("Store the course");
  expect(sent[0]).toMatchObject({ method: "POST", url: "/api/courses" });
  expect(sent[0]?.body.course.key).toBe("gliding_upsets");
});
