import "fake-indexeddb/auto";
import "@testing-library/jest-dom/vitest";
import { cleanup, configure } from "@testing-library/react";
import { afterEach } from "vitest";

// A machine that does other work meanwhile takes longer to draw: what is awaited is not a matter of time.
configure({ asyncUtilTimeout: 15000 });
afterEach(cleanup);
