import { render, screen, within } from "@testing-library/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { FigureAnswer, PastAttempt, Student } from "../api/types";
import { OwnNumbers } from "../charts/OwnNumbers";
import { answer, figureAnswer } from "../fixtures";
import { AttemptsOverTime } from "./AttemptsOverTime";
import { OwnPlaces } from "./OwnPlaces";

const place: Student["own"][number] = {
  figure: "spin",
  attempts: 4,
  needed: 10,
  in_100: 84,
  least: 57,
  most: 97,
  likely_ft: 690,
  worst_ft: 890,
  population_likely_ft: 600,
  population_worst_ft: 770,
  words: "Of 100 pilots of the population 84 lose less here.",
};
const flown: PastAttempt = {
  sortie_id: 1,
  flown_on: "2026-05-01T09:00:00Z",
  figure: "spin",
  title: "Spin, left",
  flown_by: "student alone",
  lost_ft: 800,
  briefed_ft: 600,
  best_ft: 410,
  grade: "Sound",
  faults: [],
  corrected: [],
};

beforeEach(() => {
  vi.stubGlobal(
    "ResizeObserver",
    vi.fn(function () {
      return { observe: vi.fn(), disconnect: vi.fn() };
    }),
  );
  vi.stubGlobal(
    "fetch",
    vi.fn(() => new Promise(() => {})),
  );
});

function shown(what: ReactNode) {
  return render(<QueryClientProvider client={new QueryClient()}>{what}</QueryClientProvider>);
}

describe("own numbers beside the population's", () => {
  const own: NonNullable<FigureAnswer["own"]> = {
    likely: answer("Own likely loss", 690),
    worst: answer("Own loss 19 times in 20", 890),
    lowest_start: answer("Lowest start", 4000),
    population_worst: answer("Loss 19 times in 20", 770),
    population_start: answer("Lowest start of the population", 3880),
    attempts: 4,
    needed: 10,
    rules: "own",
    doubt_ft: 60,
    words: "4 of 10 attempts counted; until then the larger rules: this student's own",
  };
  it("has both rows, the one that rules in bold, and says why", () => {
    vi.mocked(getComputedStyle).mockRestore();
    shown(<OwnNumbers figure={figureAnswer("f1")} own={own} />);
    const table = screen.getByRole("table", { name: "Spin f1: this student beside the population" });
    const [, population, student] = within(table).getAllByRole("row");
    expect(student).toHaveTextContent(/^This student/);
    const numbers = within(student as HTMLElement).getAllByRole("button");
    expect(numbers.map((n) => n.textContent)).toEqual(["690", "890", "4,000"]);
    expect(population).toHaveTextContent(/^Population/);
    expect(student).toHaveStyle({ fontWeight: 720 });
    expect(population).toHaveStyle({ fontWeight: 400 });
    expect(screen.getByText(/^4 of 10 attempts counted/)).toBeInTheDocument();
  });
  it("has the population's in bold where that rules", () => {
    vi.mocked(getComputedStyle).mockRestore();
    shown(<OwnNumbers figure={figureAnswer("f1")} own={{ ...own, rules: "population" }} />);
    const [, population, student] = screen.getAllByRole("row");
    expect(population).toHaveStyle({ fontWeight: 720 });
    expect(student).toHaveStyle({ fontWeight: 400 });
  });
});

describe("the places of a student among a hundred", () => {
  it("has the dearest first", () => {
    const cheap = {
      ...place,
      figure: "loop",
      in_100: 20,
      worst_ft: 480,
      words: "Of 100 pilots 20 lose less here.",
    };
    shown(<OwnPlaces own={[cheap, place]} />);
    const words = screen.getAllByText(/lose less here/).map((e) => e.textContent);
    expect(words).toEqual([place.words, cheap.words]);
    expect(screen.getByText("890 ft, population 770")).toBeInTheDocument();
  });
  it("says from what they are learnt where there are none", () => {
    shown(<OwnPlaces own={[]} />);
    expect(screen.getByText(/learnt from debriefed attempts/)).toBeInTheDocument();
  });
});

describe("heights over time", () => {
  it("have the least that the aircraft allowed, and the next one as it is likely", () => {
    const { container } = shown(<AttemptsOverTime attempts={[flown]} own={place} />);
    expect(within(screen.getByRole("table")).getByText("410 ft")).toBeInTheDocument();
    const spans = [...container.querySelectorAll("svg title")].map((e) => e.textContent);
    expect(spans).toContain("own: likely 690 ft, 19 times in 20 within 890 ft");
    expect(spans).toContain("population: likely 600 ft, 19 times in 20 within 770 ft");
  });
  it("are as they were for a figure of which nothing is known", () => {
    const { container } = shown(<AttemptsOverTime attempts={[{ ...flown, best_ft: null }]} />);
    expect(container.querySelectorAll("svg title")).toHaveLength(1);
    expect(screen.queryByText("own")).toBeNull();
  });
});
