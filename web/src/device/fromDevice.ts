/** Answers of the server that are kept on this device, and given where there is no server: who is logged in, today, the
 * catalogue, and the sorties that are flown next. Everything else says that it needs the network. */
import type { Middleware } from "openapi-fetch";
import type { Session, Sortie } from "../api/types";
import { measureClock } from "./clock";
import { dataOf } from "./database";
import { keepIfFlownSoon } from "./kept";
import { setOnline } from "./online";
import { rememberWho, whoWasHere } from "./who";

const SESSION = "/api/session";
const KEPT_AS_THEY_ARE = ["/api/today", "/api/catalogue", "/api/forms", "/api/aircraft", "/api/places"];
const SORTIE = /^\/api\/sorties\/(\d+)$/;

const FROM_HERE = "X-From-Device";

const asked = new Map<string, number>();

export const fromDevice: Middleware = {
  onRequest({ id }) {
    asked.set(id, Date.now());
  },
  async onResponse({ request, response, id }) {
    // What was given from here says nothing of the server, its clock or who is logged in there.
    if (response.headers.has(FROM_HERE)) return;
    setOnline(true);
    const at = asked.get(id) ?? Date.now();
    asked.delete(id);
    if (!response.ok) return;
    const { pathname } = new URL(request.url);
    if (pathname.startsWith(SESSION)) {
      const session = (await response.clone().json()) as Session;
      measureClock(session.now, at);
      rememberWho(session);
      return;
    }
    const who = whoWasHere()?.person?.id;
    if (who === undefined) return;
    // Keeping must not hold up, nor spoil, what was asked for.
    void keep(who, request.method, pathname, response.clone()).catch(() => undefined);
  },
  async onError({ request, error, id }) {
    asked.delete(id);
    if (error instanceof DOMException && error.name === "AbortError") return;
    setOnline(false);
    if (request.method !== "GET") return;
    const body = await kept(new URL(request.url).pathname).catch(() => undefined);
    if (body === undefined) return;
    return new Response(JSON.stringify(body), {
      headers: { "Content-Type": "application/json", [FROM_HERE]: "1" },
    });
  },
};

async function keep(who: number, method: string, pathname: string, response: Response) {
  if (method === "GET" && KEPT_AS_THEY_ARE.includes(pathname)) {
    const body: unknown = await response.json();
    await dataOf(who).answers.put({ path: pathname, at: Date.now(), body });
  }
  if (/^\/api\/sorties\/\d+(\/(stage|booking|cancel|take-over|sign))?$/.test(pathname) && method !== "DELETE")
    await keepIfFlownSoon(who, (await response.json()) as Sortie);
}

async function kept(pathname: string): Promise<unknown> {
  const session = whoWasHere();
  if (pathname === SESSION) return session ?? undefined;
  const who = session?.person?.id;
  if (who === undefined) return undefined;
  const sortie = SORTIE.exec(pathname)?.[1];
  if (sortie !== undefined) return (await dataOf(who).sorties.get(Number(sortie)))?.sortie;
  return (await dataOf(who).answers.get(pathname))?.body;
}
