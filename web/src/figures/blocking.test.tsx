import { render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import type { Figure, FigureStandard } from "../api/types";
import { BlockingFields, blocksOf, blocksWords } from "./Blocking";

type Blocking = NonNullable<FigureStandard["blocking"]>;
const faults = [
  { key: "wrong_rudder", words: "Wrong rudder", does: "", blocks: { grade: "Sound", clean_attempts: 3 } },
  { key: "soft_pull", words: "Soft pull", does: "", blocks: null },
] as unknown as Figure["faults"];

function Fields({ seen, first = {} }: { seen: Blocking[]; first?: Blocking }) {
  const [value, setValue] = useState(first);
  const change = (next: Blocking) => (seen.push(next), setValue(next));
  return <BlockingFields faults={faults} value={value} onChange={change} />;
}
const choose = async (fault: string, grade: string) => {
  await userEvent.click(within(screen.getByRole("row", { name: new RegExp(fault) })).getByRole("combobox"));
  await userEvent.click(screen.getByRole("option", { name: grade }));
};

describe("faults that hold a student back", () => {
  it("are the catalogue's until the chief says otherwise, and again when it is put back", async () => {
    const seen: Blocking[] = [];
    render(<Fields seen={seen} />);
    await choose("Wrong rudder", "nothing");
    expect(seen.at(-1)).toEqual({ wrong_rudder: null });
    expect(screen.queryByRole("textbox", { name: "Wrong rudder: attempts without it" })).toBeNull();
    await choose("Soft pull", "Solo-ready");
    expect(seen.at(-1)).toEqual({
      wrong_rudder: null,
      soft_pull: { grade: "Solo-ready", clean_attempts: 2 },
    });
    await choose("Soft pull", "nothing");
    expect(seen.at(-1)).toEqual({ wrong_rudder: null });
  });
  it("say what they keep from", () => {
    const [rudder, pull] = faults;
    expect(blocksWords(blocksOf(rudder!, undefined))).toBe("not graded Sound until 3 attempts without it");
    expect(blocksWords(blocksOf(rudder!, { wrong_rudder: null }))).toBe("");
    expect(blocksWords(blocksOf(pull!, { soft_pull: { grade: "Guided", clean_attempts: 1 } }))).toBe(
      "not graded Guided until 1 attempt without it",
    );
  });
});
