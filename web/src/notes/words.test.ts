import type { Entry } from "../api/types";
import { said } from "./words";

describe("an entry in words", () => {
  const titles = { f1: "Spin, left" };
  const entry = {
    id: "an-entry-1",
    attempt: "f1",
    about: "",
    by: "",
    device: "d",
    source: "hand",
    at: "2026-05-14T10:00:00Z",
    offset_s: 0,
    replaces: [],
  };
  it.each([
    [{ what: "start_ft", value: 5400 }, "Spin, left: Start 5,400"],
    [{ attempt: "f1.2", what: "start_ft", value: null }, "Spin, left: Start taken back"],
    [{ what: "fault", about: "power_late", value: true }, "Spin, left: power late"],
    [{ what: "skipped", value: false }, "Spin, left: Left out, not"],
    [{ attempt: "f9", what: "note", value: "wind" }, "f9: Note wind"],
  ] as const)("%o", (over, words) => {
    expect(said({ ...entry, ...over } as unknown as Entry, titles)).toBe(words);
  });
});
