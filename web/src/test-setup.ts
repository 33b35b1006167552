import "fake-indexeddb/auto";
import "@testing-library/jest-dom/vitest";
import { cleanup, configure } from "@testing-library/react";
import { afterEach } from "vitest";

// No test reaches for a network: what it does not stub is offline.
globalThis.fetch = () => Promise.reject(new TypeError("no network in tests"));

// A machine that does other work meanwhile takes longer to draw: what is awaited is not a matter of time.
configure({ asyncUtilTimeout: 60_000 });
afterEach(cleanup);
