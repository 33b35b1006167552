import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { fireEvent, render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { MemoryRouter, Outlet, Route, Routes } from "react-router";
import type { Difference, PlanDocument } from "../../api/types";
import { closerLook, draft, figureAnswer, planAnswer, planned, sortie } from "../../fixtures";
import { typedInto } from "../../Questions";
import { acceptFit, repeatFigure } from "../edits";
import { useSortie } from "../useSortie";
import { PlanStage } from "./PlanStage";

const first = sortie();
let answers: Record<string, unknown> = {};

function Stage() {
  const work = useSortie(first);
  const [selected, select] = useState<string | null>("f1");
  return (
    <>
      <output data-testid="plan">{JSON.stringify(work.draft.plan)}</output>
      <PlanStage
        work={work}
        selected={selected}
        select={select}
        go={() => undefined}
        move={() => undefined}
      />
    </>
  );
}

function show() {
  vi.stubGlobal("fetch", (request: Request) => {
    const path = new URL(request.url).pathname.replace("/api/sorties/7/", "").replace("/api/", "");
    const found = answers[path];
    if (found === undefined) return new Promise<Response>(() => undefined);
    const refused = typeof found === "object" && found !== null && "problems" in found;
    return Promise.resolve(
      new Response(JSON.stringify(found), {
        status: refused ? 422 : 200,
        headers: { "Content-Type": "application/json" },
      }),
    );
  });
  const person = { id: 1, name: "Bo", role: "instructor" };
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <MemoryRouter>
        <Routes>
          <Route element={<Outlet context={person} />}>
            <Route path="/" element={<Stage />} />
          </Route>
        </Routes>
      </MemoryRouter>
    </QueryClientProvider>,
  );
}
const plan = () => JSON.parse(screen.getByTestId("plan").textContent ?? "{}") as PlanDocument;
const figure = {
  key: "spin",
  name: "Spin",
  family: "Spins",
  purpose: "",
  has_sides: true,
  schools: [],
  parameters: [
    { name: "pull_g", label: "Pull", unit: "g", usual: 2.5, least: 1.5, most: 6, switch: false },
    { name: "flap", label: "Gear and flap", unit: "", usual: 0, least: 0, most: 1, switch: true },
  ],
};
beforeEach(() => {
  answers = {
    catalogue: {
      figures: [figure, { ...figure, key: "loop", name: "Loop", family: "Looping" }],
      flown_by: ["instructor shows", "student with talk", "student alone"],
      earned: {},
      standings: [],
      needed: [],
    },
    closer: closerLook("f1"),
    aircraft: [],
    places: [],
  };
});

describe("a sequence by keyboard", () => {
  it("repeats, mirrors, moves and removes the chosen figure", async () => {
    show();
    await userEvent.keyboard("m");
    expect(plan().figures.map((f) => [f.id, f.side])).toEqual([
      ["f1", "left"],
      ["f3", "right"],
      ["f2", "left"],
    ]);
    await userEvent.keyboard("]");
    expect(plan().figures.map((f) => f.id)).toEqual(["f1", "f2", "f3"]);
    await userEvent.keyboard("[[[[");
    expect(plan().figures.map((f) => f.id)).toEqual(["f3", "f1", "f2"]);
    await userEvent.keyboard("{Delete}");
    expect(plan().figures.map((f) => f.id)).toEqual(["f1", "f2"]);
  });
  it("raises the start by 50 ft, and a figure is added by a few letters", async () => {
    show();
    await userEvent.keyboard("{ArrowUp}{ArrowUp}{ArrowDown}");
    expect(plan().figures[0]?.start_ft).toBe(5050);
    // The catalogue has come when the settings know the figure's switch.
    await screen.findByRole("switch", { name: "Gear and flap" });
    await userEvent.keyboard("a");
    const dialog = await screen.findByRole("dialog", undefined);
    await userEvent.type(within(dialog).getByRole("combobox"), "loo{Enter}");
    expect(plan().figures.map((f) => f.key)).toEqual(["spin", "loop", "spin"]);
  });
  it("moves a figure along from its notch", () => {
    show();
    const notch = screen.getByRole("slider", { name: "1 Spin f1, start height" });
    fireEvent.keyDown(notch, { key: "ArrowRight" });
    expect(plan().figures.map((f) => f.id)).toEqual(["f2", "f1"]);
    fireEvent.keyDown(notch, { key: "ArrowUp", shiftKey: true });
    expect(plan().figures.find((f) => f.id === "f1")?.start_ft).toBe(5010);
  });
});

describe("settings", () => {
  it("turns a switch on as 1 and drags the map into speed and pull", async () => {
    show();
    await userEvent.click(await screen.findByRole("switch", { name: "Gear and flap" }));
    expect(plan().figures[0]?.parameters).toEqual({ flap: 1 });
    fireEvent.keyDown(await screen.findByRole("slider", { name: "Entry speed and pull of the plan" }), {
      key: "ArrowUp",
    });
    expect(plan().figures[0]?.parameters).toEqual({ flap: 1, pull_g: 2.6 });
  });
  it("shows what if, with what it would break", async () => {
    show();
    await userEvent.click(screen.getByRole("tab", { name: "Side view and what if" }));
    expect(await screen.findByText("First input a second later", undefined)).toBeVisible();
    expect(screen.getByText(/100 ft below the floor/)).toBeVisible();
  });
});

describe("fit it", () => {
  const better = {
    ...first.plan,
    figures: [
      { ...first.plan.figures[1]!, start_ft: 5200 },
      { ...first.plan.figures[0]!, start_ft: 4800 },
    ],
  };
  const differences: Difference[] = [
    { kind: "order", figure: null, words: "In the order: f2, f1" },
    { kind: "start", figure: "f1", words: "Spin f1: start at 4,800 ft" },
    { kind: "start", figure: "f2", words: "Spin f2: start at 5,200 ft" },
  ];
  it("is accepted in part: only what is ticked", async () => {
    answers.fit = {
      fits: true,
      why: "Fits.",
      changes: [],
      differences,
      plan: better,
      answer: planAnswer([figureAnswer("f2", 5200), figureAnswer("f1", 4800)]),
    };
    show();
    await userEvent.keyboard("f");
    await screen.findByText("This would fit", undefined);
    expect(screen.getByLabelText("Proposal", { selector: "g" })).toBeInTheDocument();
    await userEvent.click(screen.getByRole("checkbox", { name: "Spin f1: start at 4,800 ft" }));
    await userEvent.click(screen.getByRole("button", { name: /^Accept 2 of 3/ }));
    expect(plan().figures.map((f) => [f.id, f.start_ft])).toEqual([
      ["f2", 5200],
      ["f1", 5000],
    ]);
    await userEvent.keyboard("{Control>}z{/Control}");
  });
  it("is left with Escape, and a refusal is said in its place", async () => {
    answers.fit = {
      problems: [{ where: "plan.figures", what: "the card has no spin figures", do: "Leave it out." }],
    };
    show();
    await userEvent.keyboard("f");
    expect(await screen.findByText(/the card has no spin figures/, undefined)).toBeVisible();
    await userEvent.keyboard("{Escape}");
    expect(screen.queryByText(/no spin figures/)).toBeNull();
    expect(plan().figures.map((f) => f.id)).toEqual(["f1", "f2"]);
  });
  it("takes figures away, changes settings and load only where chosen", () => {
    const now = { ...draft([planned("f1"), planned("f2"), planned("f3")]) };
    const proposal = {
      ...now.plan,
      load: { ...now.plan.load, baggage_lb: 5 },
      figures: [planned("f1", { key: "incipient_spin" }), planned("f3", { start_ft: 4000 })],
    };
    const all: Difference[] = [
      { kind: "without", figure: "f2", words: "" },
      { kind: "settings", figure: "f1", words: "" },
      { kind: "start", figure: "f3", words: "" },
      { kind: "load", figure: null, words: "" },
    ];
    const taken = acceptFit(proposal, all)(now).plan;
    expect(taken.figures.map((f) => [f.id, f.key, f.start_ft])).toEqual([
      ["f1", "incipient_spin", 5000],
      ["f3", "spin", 4000],
    ]);
    expect(taken.load.baggage_lb).toBe(5);
    expect(acceptFit(proposal, [])(now).plan).toEqual(now.plan);
    expect(repeatFigure("f9", "f4", false)(now).plan).toEqual(now.plan);
  });
});

describe("the day", () => {
  it("takes a pasted report with its doubts, and a number typed after it is no longer the report's", async () => {
    answers.weather = {
      day: {
        ...first.plan.day,
        qnh_hpa: 1009,
        report: "METAR XSKA",
        sources: { qnh_hpa: "METAR XSKA 25 1350Z" },
      },
      doubts: ["4 hours old: ask for a newer one."],
      taken: "QNH",
    };
    show();
    await userEvent.click(screen.getByRole("tab", { name: "Day" }));
    await userEvent.type(screen.getByLabelText("METAR"), "METAR XSKA");
    await userEvent.click(screen.getByRole("button", { name: "Read it" }));
    expect(await screen.findByText("Report 4 hours old: ask for a newer one.", undefined)).toBeVisible();
    expect(screen.getByText("METAR 1350Z")).toBeVisible();
    typedInto(screen.getByLabelText("QNH, hPa"), "1010");
    expect(plan().day.sources).toEqual({});
    expect(plan().day.qnh_hpa).toBe(1010);
  });
  it("says what is wrong with a report and changes nothing", async () => {
    answers.weather = {
      problems: [
        { where: "report", place: "Report", what: "no station and time", do: "Paste the whole line." },
      ],
    };
    show();
    await userEvent.click(screen.getByRole("tab", { name: "Day" }));
    await userEvent.click(screen.getByRole("button", { name: "Fetch" }));
    expect(await screen.findByText(/no station and time/, undefined)).toBeVisible();
    expect(plan().day).toEqual(first.plan.day);
  });
});
