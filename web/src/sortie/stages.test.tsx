import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { READING_ONLY, sortie } from "../fixtures";
import DebriefStage from "./debrief/DebriefStage";
import FlyStage from "./fly/FlyStage";
import SignStage from "./sign/SignStage";
import type { StageProps } from "./stage";
import { useSortie, type SortieWork } from "./useSortie";
import { Newer } from "./Newer";
import { ConflictDialog } from "./ConflictDialog";
import type { Sortie } from "../api/types";

globalThis.ResizeObserver ??= class {
  observe() {}
  unobserve() {}
  disconnect() {}
};

function Stage({ first, of: Shown }: { first: Sortie; of: React.ComponentType<StageProps> }) {
  const work = useSortie(first);
  const [selected, select] = useState<string | null>("f1");
  return (
    <>
      <output data-testid="draft">{JSON.stringify(work.draft.attempts)}</output>
      <Shown work={work} selected={selected} select={select} go={() => undefined} move={() => undefined} />
    </>
  );
}

function show(first: Sortie, of: React.ComponentType<StageProps>) {
  vi.stubGlobal("fetch", () => new Promise(() => undefined));
  render(
    <QueryClientProvider client={new QueryClient()}>
      <Stage first={first} of={of} />
    </QueryClientProvider>,
  );
}
const noted = () => JSON.parse(screen.getByTestId("draft").textContent ?? "[]") as Sortie["attempts"];
beforeEach(() => localStorage.clear());
afterEach(() => vi.unstubAllGlobals());

const attempt = {
  id: "a1",
  planned: sortie().plan.figures[0]!,
  start_ft: 5000,
  lowest_ft: 3900,
  flown_by: "student alone" as const,
  faults: ["soft_pull"],
  note: "",
  skipped: false,
};

describe("Fly", () => {
  it("notes the plan's height with one tap, and moves it with the next", async () => {
    show(sortie({ stage: "briefed" }), FlyStage);
    await userEvent.click(screen.getByRole("button", { name: /^Lowest/ }));
    expect(noted()[0]?.lowest_ft).toBe(4000);
    await userEvent.click(screen.getByRole("button", { name: "−100" }));
    await userEvent.click(screen.getByRole("button", { name: "+20" }));
    expect(noted()[0]?.lowest_ft).toBe(3920);
    await userEvent.click(screen.getByRole("button", { name: "Feel 8" }));
    await userEvent.click(screen.getByRole("button", { name: "Timid pull" }));
    await userEvent.click(screen.getByRole("button", { name: "Student" }));
    expect(noted()).toHaveLength(1);
    expect(noted()[0]).toMatchObject({ feel: 8, faults: ["soft_pull"], flown_by: "student alone" });
  });
  it("flies a figure again as an attempt of its own, and skips", async () => {
    show(sortie({ stage: "briefed", attempts: [attempt] }), FlyStage);
    await userEvent.click(screen.getByRole("button", { name: "Again" }));
    expect(noted().map((a) => [a.id, a.start_ft])).toEqual([
      ["a1", 5000],
      ["a2", undefined],
    ]);
    await userEvent.click(screen.getByRole("button", { name: "Skip" }));
    expect(noted()[1]?.skipped).toBe(true);
  });
  it("tells the whole screen when the floor was crossed", () => {
    show(sortie({ stage: "briefed", attempts: [{ ...attempt, lowest_ft: 2900 }] }), FlyStage);
    expect(screen.getByRole("alert")).toHaveTextContent("Below the floor of 3,000 ft.");
  });
  it("says what is missing before its time, and takes nothing", () => {
    show(sortie({ missing: { briefed: ["Tick 'Comfort' on the before-flight list."] } }), FlyStage);
    expect(screen.getByText("Tick 'Comfort' on the before-flight list.")).toBeVisible();
    expect(screen.getByRole("button", { name: /^Lowest/ })).toBeDisabled();
  });
});

describe("Debrief", () => {
  it("grades the chosen attempt by its key", async () => {
    show(sortie({ stage: "flown", attempts: [attempt] }), DebriefStage);
    await userEvent.keyboard("g");
    expect(noted()[0]?.grade).toBe("Guided");
    await userEvent.keyboard("r");
    expect(noted()[0]?.grade).toBe("Solo-ready");
  });
  it("does not grade while a note is typed", async () => {
    show(sortie({ stage: "flown", attempts: [attempt] }), DebriefStage);
    await userEvent.type(screen.getByRole("textbox", { name: "Note on this attempt" }), "gross");
    expect(noted()[0]).toMatchObject({ note: "gross" });
    expect(noted()[0]?.grade).toBeUndefined();
  });
});

describe("Sign", () => {
  it("shows what is signed, and no form to somebody who may not", () => {
    show(sortie({ stage: "debriefed", attempts: [attempt], may: READING_ONLY }), SignStage);
    expect(within(screen.getAllByRole("table")[0]!).getByText("Timid pull")).toBeVisible();
    expect(screen.queryByLabelText("Your password")).toBeNull();
  });
  it("says so when a record is not as it was signed", () => {
    show(
      sortie({
        stage: "signed",
        may: READING_ONLY,
        signature: {
          by: "Bo",
          at: "2026-05-14T12:00:00Z",
          digest: "abc",
          holds: false,
          trouble: "the stored plan differs",
        },
      }),
      SignStage,
    );
    expect(screen.getByText("The record is not as it was signed: the stored plan differs.")).toBeVisible();
  });
});

it("a conflict names field and values, and is stored once each is chosen", async () => {
  const stored: string[] = [];
  const clash = (name: string, mine: number, theirs: number) => ({ where: `plan.day.${name}`, mine, theirs });
  const said = (name: string, place: string, theirs: string, yours: string) => ({
    where: `plan.day.${name}`,
    place,
    stored: theirs,
    yours,
  });
  render(
    <ConflictDialog
      conflict={{
        by: "Cy",
        at: "2026-05-14T10:00:00Z",
        version: 4,
        differences: [said("qnh_hpa", "Day, QNH", "1,001", "1,013"), said("wind_kt", "Day, Wind", "5", "9")],
      }}
      clashes={[clash("qnh_hpa", 1013, 1001), clash("wind_kt", 9, 5)]}
      onStore={(choose) => stored.push(choose("plan.day.qnh_hpa"), choose("plan.day.wind_kt"))}
      onClose={() => stored.push("later")}
    />,
  );
  expect(screen.getByText("Day, QNH")).toBeVisible();
  await userEvent.click(screen.getByRole("button", { name: "1,001" }));
  expect(screen.getByRole("button", { name: "Choose 1 more" })).toBeDisabled();
  await userEvent.click(screen.getByRole("button", { name: "9" }));
  await userEvent.click(screen.getByRole("button", { name: "Store these" }));
  await userEvent.keyboard("{Escape}");
  expect(stored).toEqual(["theirs", "mine", "later"]);
});

describe("what was changed after it was planned", () => {
  const newer = {
    aircraft: [
      { where: "card.speeds.stall_ias.value", place: "Speeds, Stall", stored: "52", yours: "54" },
      ...["a", "b", "c", "d"].map((where) => ({ where, place: where, stored: "1", yours: "2" })),
    ],
  };
  it("stands above the plan and is taken over by hand", async () => {
    const taken: string[] = [];
    const work = {
      sortie: sortie({ newer }),
      takeNewer: (what: string) => (taken.push(what), Promise.resolve([])),
    };
    render(<Newer work={work as unknown as SortieWork} />);
    expect(screen.getByText(/Speeds, Stall: 52 → 54; a: 1 → 2; .*and 1 more/)).toBeVisible();
    await userEvent.click(screen.getByRole("button", { name: "Take over" }));
    expect(taken).toEqual(["aircraft"]);
  });
  it("is read, not taken over, by who does not plan", () => {
    const work = { sortie: sortie({ newer, may: READING_ONLY }) };
    render(<Newer work={work as unknown as SortieWork} />);
    expect(screen.queryByRole("button", { name: "Take over" })).toBeNull();
  });
});
