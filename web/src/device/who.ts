/** Who is logged in on this device, for when there is no server to ask: until they log out, or for fourteen days. */
import type { Session } from "../api/types";

const WHO = "keelturn.who",
  OUT = "keelturn.log-out";
export const DAYS = 14;
const MOST_MS = DAYS * 24 * 3600 * 1000;

interface Kept {
  session: Session;
  at: number;
}

export function rememberWho(session: Session, now = Date.now()) {
  if (session.person) localStorage.setItem(WHO, JSON.stringify({ session, at: now } satisfies Kept));
  else localStorage.removeItem(WHO);
}

/** Null for nobody, or for somebody who was here too long ago. */
export function whoWasHere(now = Date.now()): Session | null {
  const text = localStorage.getItem(WHO);
  if (!text) return null;
  try {
    const { session, at } = JSON.parse(text) as Kept;
    return now - at < MOST_MS ? session : null;
  } catch {
    return null;
  }
}

/** Logged out. told: the server knows; where it does not, it is told when it answers. */
export function forgetWho(told: boolean) {
  localStorage.removeItem(WHO);
  if (told) localStorage.removeItem(OUT);
  else localStorage.setItem(OUT, "1");
}

export function loggedIn() {
  localStorage.removeItem(OUT);
}

export function isStillToBeLoggedOut(): boolean {
  return localStorage.getItem(OUT) !== null;
}
