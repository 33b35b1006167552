/** The session has ended while somebody works: the calls that need one wait here until they are logged in again, and then
 * go on. */

type Listener = (ended: boolean) => void;
let waiting: { over: Promise<void>; end: () => void } | null = null;
const listeners = new Set<Listener>();

/** Resolves once somebody has logged in again. */
export function loggedInAgain(): Promise<void> {
  if (!waiting) {
    let end: () => void = () => undefined;
    const over = new Promise<void>((done) => (end = done));
    waiting = { over, end };
    listeners.forEach((tell) => tell(true));
  }
  return waiting.over;
}

export function goOn() {
  const was = waiting;
  waiting = null;
  listeners.forEach((tell) => tell(false));
  was?.end();
}

export function whenEnded(tell: Listener): () => void {
  listeners.add(tell);
  return () => void listeners.delete(tell);
}
