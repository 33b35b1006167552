/** Numbers are sent without their working, which is asked for when somebody wants to know why. */
import type { Answer, Working } from "../api/types";

type Ask = (at: string) => Promise<Working>;
const asks = new WeakMap<Answer, () => Promise<Working>>();

/** Every number in what was computed knows from now on where its working is asked for. at: what the server calls the whole. */
export function withWorking<T>(computed: T, at: string, ask: Ask): T {
  mark(computed, at, ask);
  return computed;
}

function mark(part: unknown, at: string, ask: Ask) {
  if (typeof part !== "object" || part === null) return;
  if (isNumber(part)) {
    asks.set(part, () => ask(at));
    return;
  }
  for (const [name, inner] of Object.entries(part)) mark(inner, `${at}.${name}`, ask);
}

function isNumber(part: object): part is Answer {
  return "shown" in part && "label" in part && "value" in part;
}

/** The number with its working: at hand, or asked for. */
export function workingOf(answer: Answer): Promise<Working> | Working {
  if ("formula" in answer) return answer as Working;
  const ask = asks.get(answer);
  return ask ? ask() : Promise.reject(new Error("The working of this number is not known here."));
}
