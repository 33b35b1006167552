/** Talking to the server: typed calls, and every failure as problems that say what, where and what to do. */
import createClient, { type Middleware } from "openapi-fetch";
import createQueries from "openapi-react-query";
import { fromDevice } from "../device/fromDevice";
import { loggedInAgain } from "../session/again";
import type { paths } from "./schema";
import type { Conflict, Problem } from "./types";

function cookie(name: string): string {
  return (
    document.cookie
      .split("; ")
      .find((c) => c.startsWith(`${name}=`))
      ?.slice(name.length + 1) ?? ""
  );
}

const csrf: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", cookie("csrftoken"));
    return request;
  },
};

const asSent = new Map<string, Request>();
/** Where the session has ended, the same is asked again once somebody has logged in. */
const sessions: Middleware = {
  onRequest({ request, id }) {
    asSent.set(id, request.clone());
  },
  async onResponse({ request, response, id }) {
    const sent = asSent.get(id);
    asSent.delete(id);
    if (response.status !== 401 || !sent || request.url.includes("/api/session")) return;
    await loggedInAgain();
    const again = new Request(sent, { signal: request.signal });
    if (again.method !== "GET") again.headers.set("X-CSRFToken", cookie("csrftoken"));
    return globalThis.fetch(again);
  },
  onError({ id }) {
    asSent.delete(id);
  },
};

export class Failed extends Error {
  constructor(
    readonly status: number,
    readonly problems: Problem[],
  ) {
    super(problems.map(inOneLine).join(" "));
  }
}

const TRIES = 10;
/** For a query's `retry`: only a server that has too many questions is asked again, and not for ever. */
export function askedAgain(before: number, error: unknown): boolean {
  return error instanceof Failed && error.status === 429 && before < TRIES;
}
export const AGAIN_MS = 1500;

/** Somebody else stored it meanwhile. */
export class Overtaken extends Error {
  constructor(readonly conflict: Conflict) {
    super(`Changed by ${conflict.by} meanwhile.`);
  }
}

export function inOneLine(problem: Problem): string {
  const dot = /[.?!]$/.test(problem.what) ? "" : ".";
  return `${problem.place}: ${problem.what}${dot} ${problem.do}`;
}

/** What the page itself has to say of something that did not work. */
export function problemAt(place: string, what: string, then: string): Problem {
  return { where: place.toLowerCase(), place, what, do: then };
}

/** Every answer that is not the thing asked for is thrown, as Failed or Overtaken. */
const failures: Middleware = {
  async onResponse({ response }) {
    if (response.ok) return;
    const body = (await response
      .clone()
      .json()
      .catch(() => null)) as ({ problems?: Problem[] } & Partial<Conflict>) | null;
    if (response.status === 409 && body) throw new Overtaken(body as Conflict);
    const what = `it failed (${response.status})`;
    const unsaid = problemAt("Server", what, "Try again; what you entered is kept here.");
    throw new Failed(response.status, body?.problems ?? [unsaid]);
  },
  onError({ error }) {
    if (error instanceof Failed || error instanceof Overtaken) return error;
    if (isAborted(error)) return error;
    return new Failed(0, [
      problemAt(
        "Offline",
        "the server does not answer",
        "Check the connection; what you entered is kept here.",
      ),
    ]);
  },
};

/** Given up by us, which is no failure. */
function isAborted(error: unknown): error is Error {
  return error instanceof DOMException && error.name === "AbortError";
}

export const server = createClient<paths>({
  baseUrl: window.location.origin,
  fetch: (r: Request) => globalThis.fetch(r),
});
server.use(failures, sessions, csrf, fromDevice);

/** For what is sent by itself while somebody flies: it asks for no log-in and disturbs nobody. */
export const quiet = createClient<paths>({
  baseUrl: window.location.origin,
  fetch: (r: Request) => globalThis.fetch(r),
});
quiet.use(failures, csrf, fromDevice);

/** Questions that are asked again and kept, by their address. */
export const api = createQueries(server);

/** The data of a call; what it throws is Failed or Overtaken. */
export async function answered<T>(call: Promise<{ data?: T }>): Promise<T> {
  return (await call).data as T;
}
