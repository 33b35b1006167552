import "fake-indexeddb/auto";
import "@testing-library/jest-dom/vitest";
import { cleanup, configure } from "@testing-library/react";
import { afterEach, beforeEach } from "vitest";
import { inZone } from "./frame/dates";

// No test reaches for a network: what it does not stub is offline.
globalThis.fetch = () => Promise.reject(new TypeError("no network in tests"));

// Only there to end what hangs: what is awaited is not a matter of time.
configure({ asyncUtilTimeout: 60_000 });
// Files share a process: each test begins with nothing of the one before.
beforeEach(() => {
  inZone("UTC");
  localStorage.clear();
  // Reading the style sheets for each question about a role took a quarter of the time; a test of styles calls
  // its mockRestore.
  vi.spyOn(window, "getComputedStyle").mockImplementation((element) => (element as HTMLElement).style);
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});
