import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import type { NextLesson, Student, Task, Way } from "../api/types";
import { inZone } from "../frame/dates";
import { CourseDialog } from "./CourseDialog";
import { Ground } from "./Ground";
import { NextCard } from "./NextCard";
import { StandingPanel } from "./StandingPanel";
import { TaskPanel } from "./TaskPanel";
import { daysBetween, flightsOf, halfOf, labelled, placesOf, rowHeight, rowsOf } from "./threads";
import { WayPicture } from "./WayPicture";

type Mark = Task["marks"][number];
const mark = (flight: number, day: string, more: Partial<Mark> = {}): Mark => ({
  flight,
  day,
  how: "with talk",
  shown: "Sound",
  beyond_ft: 100,
  attempts: 1,
  open: [],
  ...more,
});

function task(name: string, more: Partial<Task> = {}): Task {
  return {
    task: name,
    title: name,
    family: "Spins",
    figure: "spin",
    state: "sound",
    reached: "sound",
    needed: "sound",
    met: true,
    reasons: ["2 attempts in 1 flight, the last that counts Sound"],
    missing: ["0 of 2 attempts at 'Solo-ready'"],
    standard: "",
    lapses_on: null,
    last_flown: null,
    marks: [],
    ...more,
  };
}

describe("where the threads lie", () => {
  const flights = [
    { id: 1, day: "2026-01-01" },
    { id: 2, day: "2026-01-11" },
    { id: 3, day: "2026-01-12" },
    { id: 4, day: "2026-06-12" },
  ];

  it("takes each flight once, oldest first, whichever task it was in", () => {
    const tasks = [
      task("a", { marks: [mark(2, "2026-01-11"), mark(3, "2026-01-12")] }),
      task("b", { marks: [mark(1, "2026-01-01"), mark(2, "2026-01-11")] }),
    ];
    expect(flightsOf(tasks).map((f) => f.id)).toEqual([1, 2, 3]);
  });

  it("keeps flights of two days apart and makes a long gap no longer than a month", () => {
    const { of } = placesOf(flights, "2026-06-22");
    // 10 days, at least 4, at most 30, then 10 to today: 54 in all.
    expect([1, 2, 3, 4].map((id) => Math.round((of.get(id) ?? -1) * 54))).toEqual([0, 10, 14, 44]);
    expect(daysBetween("2026-01-01", "2026-01-11T09:00:00Z")).toBe(10);
  });

  it("is as thick as the height beyond the brief, never invisible, never over its neighbour", () => {
    expect([null, -200, 0, 100, 5000].map(halfOf)).toEqual([1.2, 1.2, 1.2, 4, 10]);
  });

  it("says as many days as have room, the latest always", () => {
    const at = new Map([
      [1, 0],
      [2, 50],
      [3, 60],
      [4, 100],
    ]);
    expect(labelled(flights, (id) => at.get(id) ?? 0, 40).map((f) => f.id)).toEqual([1, 3, 4]);
  });

  it("stands tasks under their families and fills the room", () => {
    const tasks = [task("a"), task("b", { family: "Stalls" }), task("c")];
    const { rows, headings, height } = rowsOf(tasks, 24);
    expect(headings.map((h) => h.words)).toEqual(["Spins", "Stalls"]);
    expect(rows.map((r) => [r.task.task, r.y])).toEqual([
      ["a", 42],
      ["c", 66],
      ["b", 120],
    ]);
    expect(height).toBe(132);
    expect([rowHeight(tasks, 144), rowHeight(tasks, 60), rowHeight(tasks, 2000)]).toEqual([28, 24, 34]);
  });
});

it("draws the way with how each was flown, where it stands, and the same in text", async () => {
  vi.stubGlobal(
    "ResizeObserver",
    class {
      observe() {}
      disconnect() {}
    },
  );
  inZone("utc");
  const chosen = vi.fn<(task: string) => void>();
  const tasks = [
    task("Spin, left", { marks: [mark(1, "2026-05-01", { how: "shown", shown: null, beyond_ft: null })] }),
    task("Spin, right", {
      state: "guided",
      reached: "sound",
      met: false,
      marks: [mark(1, "2026-05-01"), mark(2, "2026-05-09", { how: "alone", beyond_ft: 146 })],
    }),
  ];
  render(
    <WayPicture
      tasks={tasks}
      felt={[
        { flight: 1, day: "2026-05-01", feel: 3 },
        { flight: 2, day: "2026-05-09", feel: 8 },
        { flight: 9, day: "2026-05-10", feel: 7 },
      ]}
      today="2026-05-14"
      chosen=""
      onChoose={chosen}
    />,
  );
  const table = screen.getByRole("table", { name: "The way through the course" });
  const right = within(table).getByRole("row", { name: /Spin, right/ });
  expect(right).toHaveTextContent("guided, lapsed from sound");
  expect(right).toHaveTextContent("Fri 1 May with talk, Sound, 100 ft beyond");
  expect(right).toHaveTextContent("Sat 9 May alone, Sound, 150 ft beyond");
  expect(screen.getByText("guided, lapsed")).toBeInTheDocument();
  expect(screen.getByText("sound ✓")).toBeInTheDocument();
  expect(screen.getByText("3 ▾")).toBeInTheDocument();
  expect(screen.getByText("8")).toBeInTheDocument();
  expect(screen.queryByText("7")).toBeNull();
  await userEvent.click(screen.getByRole("button", { name: "Spin, right" }));
  expect(chosen).toHaveBeenLastCalledWith("Spin, right");
  await userEvent.click(screen.getByRole("button", { name: "Spin, left" }));
  expect(chosen).toHaveBeenLastCalledWith("Spin, left");
  vi.unstubAllGlobals();
});

it("says what is next, one gentler, one harder, and what is missing for the rest", () => {
  const next: NextLesson = {
    lesson: "b",
    name: "Spins",
    purpose: "",
    why: [
      "Spins: not yet as the course needs it: spin (guided).",
      "From 3 Jun on, not in this lesson, lapse: x.",
    ],
    missing: [],
    gentler: { lesson: "a", name: "Stalls", why: "without spin; its most is power-off stall" },
    harder: null,
    not_yet: [{ lesson: "c", name: "Teach", missing: ["the standing 'practised', now 'first flights'"] }],
  };
  render(<NextCard next={next} />);
  expect(screen.getByRole("heading", { name: "Spins" })).toBeVisible();
  expect(screen.getByText("Not yet as the course needs it: spin (guided).")).toBeVisible();
  expect(screen.getByText(/without spin/)).toHaveTextContent("Gentler: Stalls, without spin");
  expect(screen.queryByText(/Harder/)).toBeNull();
  expect(screen.getByText(/needs the standing/)).toHaveTextContent("Teach needs the standing 'practised'");
});

it("says why a task is what it is, and what is missing", () => {
  const { rerender } = render(<TaskPanel task={task("Spin", { lapses_on: "2026-06-01" })} />);
  expect(screen.getByText("As the course needs it; for more:")).toBeVisible();
  expect(screen.getByText(/Falls by one on Mon 1 Jun/)).toBeVisible();
  rerender(<TaskPanel task={task("Spin", { met: false, needed: "ready" })} />);
  expect(screen.getByText("Needed: ready. Missing for the next state:")).toBeVisible();
  expect(screen.getByText("0 of 2 attempts at 'Solo-ready'")).toBeVisible();
});

const WAY: Way = {
  course: "small",
  name: "Small",
  version: 1,
  newest: 2,
  began: "2026-01-01T09:00:00Z",
  met: false,
  flight_h: 3,
  ground_h: 1.5,
  ground_done_h: 0.5,
  tasks: [],
  ground: [
    { key: "manual", words: "The manual", hours: 0.5, done_by: "Bo", done_at: "2026-01-02T09:00:00Z" },
    { key: "leaving", words: "Leaving", hours: 1, done_by: null, done_at: null },
  ],
};
const STANDING: Student["standing"] = {
  standing: "practised",
  follows: "first flights",
  why: "Small: 1 task missing for 'practised'",
  missing: ["Spin: guided, needed sound"],
  set_by: "Morag",
  set_at: "2026-03-01T09:00:00Z",
  reason: "Flew elsewhere.",
  ahead: [{ day: "2026-10-29", standing: "first flights", why: "" }],
};
const student = { id: 7, name: "Ana", way: WAY, standing: STANDING } as Student;
const sent: { method: string; url: string; body: unknown }[] = [];
const answers: Record<string, unknown> = {};

function show(what: React.ReactNode) {
  sent.length = 0;
  vi.stubGlobal("fetch", async (request: Request) => {
    const url = new URL(request.url).pathname;
    if (request.method !== "GET")
      sent.push({ method: request.method, url, body: (await request.json()) as unknown });
    return new Response(JSON.stringify(answers[url] ?? {}), {
      headers: { "content-type": "application/json" },
    });
  });
  render(<QueryClientProvider client={new QueryClient()}>{what}</QueryClientProvider>);
}

it("shows both standings where the chief has set one, and sets it with a reason", async () => {
  answers["/api/catalogue"] = { standings: ["first flights", "practised"] };
  show(<StandingPanel student={student} chief />);
  expect(screen.getByText(/Set by Morag/)).toHaveTextContent(
    "Set by Morag, Sun 1 Mar: Flew elsewhere. From the tasks it would be first flights",
  );
  expect(screen.getByText("If nothing more is flown: first flights from Thu 29 Oct.")).toBeVisible();
  await userEvent.click(screen.getByRole("button", { name: "Set it otherwise" }));
  const store = screen.getByRole("button", { name: "Set the standing" });
  expect(store).toBeDisabled();
  await userEvent.click(screen.getByRole("combobox"));
  await userEvent.click(await screen.findByRole("option", { name: "as it follows" }));
  await userEvent.type(screen.getByLabelText(/Reason/), "Too soon.");
  await userEvent.click(store);
  expect(sent).toEqual([
    { method: "PUT", url: "/api/students/7/standing", body: { standing: null, reason: "Too soon." } },
  ]);
});

it("leaves the standing to the chief", () => {
  show(<StandingPanel student={student} chief={false} />);
  expect(screen.queryByRole("button", { name: "Set it otherwise" })).toBeNull();
});

it("ticks what was done on the ground, for who teaches", async () => {
  show(<Ground student={student} way={WAY} teaches />);
  expect(screen.getByText("0.5 of at least 1.5 h; in the air at least 3 h")).toBeVisible();
  await userEvent.click(screen.getByRole("checkbox", { name: "Leaving" }));
  expect(sent).toEqual([{ method: "PUT", url: "/api/students/7/ground/leaving", body: { done: true } }]);
});

it("moves a student on to the later version only with what that changes in sight", async () => {
  answers["/api/courses"] = [{ key: "small", version: 2, course: { name: "Small", purpose: "To see" } }];
  answers["/api/students/7/course/move"] = {
    version: 2,
    differs: [{ kind: "changed", what: "Task: Spin, needed", before: "sound", after: "ready" }],
    tasks: [{ title: "Spin", before: "sound", after: "sound", needed: "ready" }],
  };
  const closed = vi.fn<() => void>();
  show(<CourseDialog student={student} onClose={closed} />);
  expect(await screen.findByText("Version 2 is in force; Ana is on version 1")).toBeVisible();
  expect(screen.getByText(/Task: Spin, needed/)).toHaveTextContent("sound → ready");
  await userEvent.click(screen.getByRole("button", { name: "Move on to version 2" }));
  expect(sent).toEqual([{ method: "POST", url: "/api/students/7/course/move", body: { version: 2 } }]);
  expect(closed).toHaveBeenCalled();
});
