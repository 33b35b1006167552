/** What tells this device from others: its name, and how far the server's clock is ahead of its own. */
import { identity } from "../api/identity";

const NAME = "keelturn.device",
  OFFSET = "keelturn.clock";

export function deviceName(): string {
  const there = localStorage.getItem(NAME);
  if (there) return there;
  const made = identity();
  localStorage.setItem(NAME, made);
  return made;
}

/** Seconds; 0 until it was measured. */
export function clockOffset(): number {
  return Number(localStorage.getItem(OFFSET) ?? "0") || 0;
}

/** A moment of this device's clock, in ms, as the server's clock had it: ISO. */
export function serverTime(at: number): string {
  return new Date(at + clockOffset() * 1000).toISOString();
}

/** now: by the server, in an answer that was asked for at `asked` and came just now. */
export function measureClock(now: string, asked: number, came = Date.now()) {
  const offset = (Date.parse(now) - (asked + came) / 2) / 1000;
  if (Number.isFinite(offset)) localStorage.setItem(OFFSET, offset.toFixed(3));
}
