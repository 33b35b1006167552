import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useEffect } from "react";
import type { Attempt, Entry, PlanAnswer, Sortie } from "../../api/types";
import { answer, sortie } from "../../fixtures";
import { useSortie } from "../useSortie";
import FlyStage from "./FlyStage";

const line = (
  kind: "floor" | "take-over height" | "feel",
  of: "height" | "recover" | "feel",
  limit: number,
) => ({
  kind,
  of,
  side: "below" as const,
  limit: answer(kind, limit),
  words: `Below ${kind}`,
  do: "Climb.",
});
const FLIGHT: PlanAnswer["flight"] = {
  fuel_usgal: Array.from({ length: 181 }, () => 19),
  reserve_at_min: 90,
  light_ends: null,
  climb_min: [
    [0, 0],
    [7000, 9],
  ],
  lookout_min: 0.75,
  comfort_limit: 99,
  lines: [line("feel", "feel", 5)],
  figures: [
    {
      id: "f1",
      other_side: "Spin f1, right",
      lines: [line("take-over height", "recover", 3700), line("floor", "height", 3000)],
      then: [{ id: "f1", minutes: 1, comfort: 1 }],
    },
    { id: "f2", other_side: null, lines: [], then: [] },
  ],
};
export function briefed(over: Partial<Sortie> = {}) {
  const made = sortie({ stage: "briefed", ...over });
  return { ...made, answer: { ...made.answer, flight: FLIGHT } };
}

/** Somebody else each time: nobody finds what another noted. */
export let person = 1000;
export let entries: readonly Entry[] = [];
export let attempts: Attempt[] = [];
export const landed = vi.fn();

function Flying({ first }: { first: Sortie }) {
  const work = useSortie(first, "fly", person);
  useEffect(() => {
    entries = work.notes.entries;
    attempts = work.notes.attempts;
  });
  return <FlyStage work={work} selected={null} select={() => undefined} go={() => undefined} move={landed} />;
}
export function fly(first: Sortie = briefed()) {
  vi.stubGlobal("fetch", () => new Promise(() => undefined));
  person += 1;
  render(
    <QueryClientProvider client={new QueryClient()}>
      <Flying first={first} />
    </QueryClientProvider>,
  );
}
/** The big key, which has the name of its height. */
export const key = (name: string) => screen.getByRole("button", { name: new RegExp(`^${name} \\d`) });
export const press = (name: RegExp | string) => userEvent.click(screen.getByRole("button", { name }));
/** An event at so many milliseconds. */
export const later = (event: Event, ms: number) => Object.defineProperty(event, "timeStamp", { value: ms });
/** Longer than a thumb bounces. */
export const breath = () => vi.advanceTimersByTime(310);
