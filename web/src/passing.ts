/** Time that passes only when a test says so. Not part of the page. */
import { act } from "@testing-library/react";

/** Timers, and the clock by which a bounce is known, stand still until `pass`. What is no timer goes on by itself:
 * answers, and the device's database. */
export function stopTime() {
  vi.useFakeTimers({
    toFake: ["setTimeout", "clearTimeout", "setInterval", "clearInterval", "performance"],
  });
}

/** So many milliseconds later, in ten steps; after each, what it set off has been asked, answered and drawn. */
export async function pass(ms: number) {
  for (let step = 0; step < 10; step += 1)
    await act(async () => {
      await vi.advanceTimersByTimeAsync(ms / 10);
      for (let turn = 0; turn < 5; turn += 1) await new Promise((done) => setImmediate(done));
    });
}
