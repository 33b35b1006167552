import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { MemoryRouter } from "react-router";
import { render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { attempt, READING_ONLY, sortie } from "../fixtures";
import { entriesFor, type Edits } from "../notes/entry";
import DebriefStage from "./debrief/DebriefStage";
import SignStage from "./sign/SignStage";
import type { StageProps } from "./stage";
import { useSortie, type SortieWork } from "./useSortie";
import { Newer } from "./Newer";
import { ConflictDialog } from "./ConflictDialog";
import type { Sortie, Stage } from "../api/types";

/** Somebody else each time: nobody finds what another noted. */
let person = 0;
function Stage({ first, of: Shown }: { first: Sortie; of: React.ComponentType<StageProps> }) {
  const work = useSortie(first, "plan", person);
  const [selected, select] = useState<string | null>("f1");
  return (
    <>
      <output data-testid="draft">{JSON.stringify(work.notes.attempts)}</output>
      <Shown work={work} selected={selected} select={select} go={() => undefined} move={() => undefined} />
    </>
  );
}

function show(first: Sortie, of: React.ComponentType<StageProps>) {
  vi.stubGlobal("fetch", () => new Promise(() => undefined));
  person += 1;
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter>
        <Stage first={first} of={of} />
      </MemoryRouter>
    </QueryClientProvider>,
  );
}
const noted = () => JSON.parse(screen.getByTestId("draft").textContent ?? "[]") as Sortie["attempts"];

const flown = attempt(sortie().plan.figures[0]!, {
  start_ft: 5000,
  lowest_ft: 3900,
  flown_by: "student alone",
  faults: ["soft_pull"],
});
/** A sortie in which this is noted, entry by entry. */
const noted_sortie = (stage: Stage, over: Partial<Sortie> = {}) =>
  sortie({ stage, attempts: [flown], entries: entriesFor([], flown, EDITS), ...over });
const EDITS: Edits = {
  start_ft: 5000,
  lowest_ft: 3900,
  flown_by: "student alone",
  fault: { soft_pull: true },
};

describe("Debrief", () => {
  it("grades the chosen attempt by its key", async () => {
    show(noted_sortie("flown"), DebriefStage);
    await userEvent.keyboard("g");
    expect(noted()[0]?.grade).toBe("Guided");
    await userEvent.keyboard("r");
    expect(noted()[0]?.grade).toBe("Solo-ready");
  });
  it("does not grade while a note is typed", async () => {
    show(noted_sortie("flown"), DebriefStage);
    await userEvent.type(screen.getByRole("textbox", { name: "Note on this attempt" }), "gross");
    await userEvent.tab();
    expect(noted()[0]).toMatchObject({ note: "gross" });
    expect(noted()[0]?.grade).toBeNull();
  });
});

describe("Sign", () => {
  it("shows what is signed, and no form to somebody who may not", () => {
    show(noted_sortie("debriefed", { may: READING_ONLY }), SignStage);
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
