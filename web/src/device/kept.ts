/** The sorties on this device: those that are briefed for today and the next seven days, with all that it takes to fly
 * them, without being asked for. */
import type { Sortie } from "../api/types";
import { clockOffset } from "./clock";
import { dataOf } from "./database";

const DAY_MS = 24 * 3600 * 1000;
const AHEAD_MS = 8 * DAY_MS,
  BEHIND_MS = DAY_MS;

type Booked = Pick<Sortie, "stage" | "planned_for" | "cancelled">;

/** now: by the server's clock. */
export function isFlownSoon({ stage, planned_for, cancelled }: Booked, now: number): boolean {
  const in_ms = Date.parse(planned_for) - now;
  return (
    cancelled === null && (stage === "briefed" || stage === "flown") && in_ms > -BEHIND_MS && in_ms < AHEAD_MS
  );
}

const serverNow = () => Date.now() + clockOffset() * 1000;

/** Put beside the others, or away, as its stage and its day have it. */
export async function keepIfFlownSoon(person: number, sortie: Sortie) {
  const { sorties } = dataOf(person);
  if ((sortie.may.note || sortie.may.read) && isFlownSoon(sortie, serverNow()))
    await sorties.put({ id: sortie.id, at: Date.now(), sortie });
  else await sorties.delete(sortie.id);
}
