/** What is left in flight, looked up in the tables that the core made before it: nothing is worked out here but where in a
 * table the flight is. */
import type { Attempt, PlanAnswer } from "../../api/types";
import { comfortSoFar, figuresLeft, lastHeight, startedAt } from "./flown";

type InFlight = NonNullable<PlanAnswer["flight"]>;

export interface Budget {
  /** Since the first figure; null before it. */ minutes: number | null;
  fuel: number;
  /** Fuel is at the reserve. */ spent: boolean;
  /** Above the floor of the next figure; null where no height is noted. */ left_ft: number | null;
  climb_ft: number | null;
  climb_min: number | null;
  /** How many more figures fit, and what ends them. */ fit: number;
  until: "fuel" | "daylight" | "comfort" | "plan";
}

/** next: the id of the figure that is flown next, or now. now: ms by the server's clock. */
export function budgetOf(
  answer: PlanAnswer,
  attempts: readonly Attempt[],
  next: string | null,
  began: string | null,
  now: number,
): Budget | null {
  const flight = answer.flight;
  if (!flight) return null;
  const since = began === null ? null : Math.max(0, (now - startedAt(began)) / 60000);
  // Longer than the table goes nobody flies: this was another day.
  const minutes = since !== null && since < flight.fuel_usgal.length ? since : null;
  const at = Math.floor(minutes ?? 0);
  const figure = answer.figures.find((f) => f.id === next);
  const height = lastHeight(attempts);
  const gate = figure?.start.value ?? null;
  const climb = height !== null && gate !== null ? Math.max(0, gate - height) : null;
  const climb_min =
    climb === null || height === null || gate === null ? null : minutesBetween(flight, height, gate);
  return {
    minutes,
    fuel: flight.fuel_usgal[at] ?? 0,
    spent: (minutes ?? 0) >= flight.reserve_at_min,
    left_ft: height !== null && figure ? height - figure.floor.value : null,
    climb_ft: climb,
    climb_min,
    ...fitting(flight, answer, attempts, next, minutes ?? 0, climb_min ?? 0, now),
  };
}

/** Minutes of climb from one height to another, from the table; none downwards. */
export function minutesBetween(flight: InFlight, from_ft: number, to_ft: number): number {
  return to_ft <= from_ft ? 0 : at(flight.climb_min, to_ft) - at(flight.climb_min, from_ft);
}

function at(table: readonly (readonly [number, number] | readonly number[])[], ft: number): number {
  const above = table.findIndex(([height = 0]) => height >= ft);
  if (above === 0) return table[0]?.[1] ?? 0;
  const [below, over] = above < 0 ? [table.at(-2), table.at(-1)] : [table[above - 1], table[above]];
  const [x0 = 0, y0 = 0] = below ?? [],
    [x1 = 0, y1 = 0] = over ?? [];
  return x1 === x0 ? y1 : y0 + ((Math.min(ft, x1) - x0) / (x1 - x0)) * (y1 - y0);
}

function fitting(
  flight: InFlight,
  answer: PlanAnswer,
  attempts: readonly Attempt[],
  next: string | null,
  minutes: number,
  climb_min: number,
  now: number,
): Pick<Budget, "fit" | "until"> {
  const then = figuresLeft(answer, attempts, next);
  const lead = climb_min + (climb_min > 0 ? flight.lookout_min : 0);
  const comfort = comfortSoFar(answer, attempts);
  const light = flight.light_ends == null ? Infinity : (Date.parse(flight.light_ends) - now) / 60000;
  const fuel = flight.reserve_at_min - minutes;
  let fit = 0;
  for (const one of then) {
    if (lead + one.minutes > fuel) return { fit, until: "fuel" };
    if (lead + one.minutes > light) return { fit, until: "daylight" };
    if (comfort + one.comfort > flight.comfort_limit) return { fit, until: "comfort" };
    fit += 1;
  }
  return { fit, until: "plan" };
}
