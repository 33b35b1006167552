/** A recorded figure flown again: one moment that everything drawn of it looks at. Kept outside of React: it moves sixty
 * times a second, and only what shows it is drawn anew. */
import { useSyncExternalStore } from "react";
import type { Trace } from "../../api/types";

export const SPEEDS = [0.25, 0.5, 1, 2, 4] as const;
/** Of one step. */ const FRAME_S = 0.1;

export class Replay {
  /** Seconds since the figure began. */ at: number;
  playing = false;
  speed = 1;
  /** The part that is flown over and over; the whole without one. */ loop: [number, number] | null = null;
  private readonly listeners = new Set<() => void>();
  private before = 0;
  private asked = 0;

  constructor(
    readonly from: number,
    readonly to: number,
  ) {
    this.at = Math.min(Math.max(0, from), to);
  }

  readonly subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => {
      this.listeners.delete(listener);
      if (this.listeners.size === 0) this.hold();
    };
  };

  private tell() {
    for (const listener of this.listeners) listener();
  }

  play() {
    const [first, last] = this.loop ?? [this.from, this.to];
    if (this.at >= last - 1e-6 || this.at < first) this.at = first;
    this.playing = true;
    this.before = performance.now();
    this.asked = requestAnimationFrame(this.frame);
    this.tell();
  }

  hold() {
    cancelAnimationFrame(this.asked);
    this.playing = false;
    this.tell();
  }

  toggle() {
    if (this.playing) this.hold();
    else this.play();
  }

  private readonly frame = (now: number) => {
    const [first, last] = this.loop ?? [this.from, this.to];
    this.at += ((now - this.before) / 1000) * this.speed;
    this.before = now;
    if (this.at >= last) {
      this.at = this.loop ? first : last;
      if (!this.loop) this.playing = false;
    }
    if (this.playing) this.asked = requestAnimationFrame(this.frame);
    this.tell();
  };

  seek(seconds: number) {
    this.at = Math.min(Math.max(seconds, this.from), this.to);
    this.tell();
  }

  step(way: 1 | -1) {
    if (this.playing) this.hold();
    this.seek(Math.round((this.at + way * FRAME_S) * 10) / 10);
  }

  setSpeed(speed: number) {
    this.speed = speed;
    this.tell();
  }

  /** From here, to here: the part between two moments; null for the whole. */
  setLoop(loop: [number, number] | null) {
    this.loop = loop && loop[1] - loop[0] >= FRAME_S ? loop : null;
    this.tell();
  }
}

/** The moment it looks at. */
export function useMoment(replay: Replay): number {
  return useSyncExternalStore(replay.subscribe, () => replay.at);
}

export function useReplaying(replay: Replay): string {
  return useSyncExternalStore(
    replay.subscribe,
    () => `${replay.playing} ${replay.speed} ${replay.loop?.join(" ") ?? ""}`,
  );
}

/** A column of the trace at a moment, between its rows; null where it was not recorded. turning: degrees, the short way. */
export function valueAt(trace: Trace, column: keyof Trace, at: number, turning = false): number | null {
  const values = trace[column] ?? [];
  const { seconds } = trace;
  if (values.length === 0) return null;
  let after = seconds.findIndex((s) => s >= at);
  if (after < 0) after = seconds.length - 1;
  const before = Math.max(0, after - 1);
  const [s0 = 0, s1 = 0] = [seconds[before], seconds[after]];
  const [v0 = 0, v1 = 0] = [values[before], values[after]];
  const share = s1 > s0 ? Math.min(1, Math.max(0, (at - s0) / (s1 - s0))) : 1;
  const apart = turning ? ((((v1 - v0) % 360) + 540) % 360) - 180 : v1 - v0;
  return v0 + share * apart;
}
