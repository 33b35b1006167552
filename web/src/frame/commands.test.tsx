import { fireEvent, render, screen } from "@testing-library/react";
import { COMMANDS, byPlace, useCommands, type CommandName } from "./commands";
import { Help } from "./Help";
import { Key } from "./Key";

const ALL = Object.entries(COMMANDS) as [CommandName, (typeof COMMANDS)[CommandName]][];

function Screen({ act, name }: { act: () => void; name: CommandName }) {
  useCommands({ [name]: act });
  return <input aria-label="Note" />;
}

describe("a command", () => {
  it("of a sortie or a stage has no key that another of the sortie, the stage or every screen has", () => {
    const stages = ALL.filter(([, { where }]) => where.startsWith("In "));
    for (const [name, { keys, where }] of stages) {
      // In Brief the pages are turned by the keys that choose the next figure elsewhere.
      const near = ALL.filter(
        ([other, c]) => other !== name && [where, "In a sortie", "Everywhere"].includes(c.where),
      );
      const taken = near.filter(([other]) => where !== "In Brief" || !["next", "previous"].includes(other));
      const theirs = taken.flatMap(([, command]) => [...command.keys] as string[]);
      expect(theirs.filter((key) => (keys as readonly string[]).includes(key))).toEqual([]);
    }
  });
  it("stands in Help with its key and its words", () => {
    render(<Help onClose={() => undefined} />);
    for (const [, { words }] of ALL) expect(screen.getAllByText(words).length).toBeGreaterThan(0);
    expect(byPlace().flatMap(([, commands]) => commands)).toHaveLength(ALL.length);
  });
  it("is shown on a control as in Help", () => {
    render(<Key of="undo" />);
    expect(screen.getByText("Ctrl Z")).toBeVisible();
  });
  it.each<[CommandName, object]>([
    ["why", { key: "w" }],
    ["undo", { key: "z", ctrlKey: true }],
    ["redo", { key: "Z", ctrlKey: true, shiftKey: true }],
    ["redo", { key: "y", ctrlKey: true }],
    ["help", { key: "?", shiftKey: true }],
    ["earlier", { key: "[" }],
    ["turnPage", { key: "PageDown" }],
    ["play", { key: " " }],
  ])("%s answers to each of its keys", (name, key) => {
    const act = vi.fn();
    render(<Screen act={act} name={name} />);
    fireEvent.keyDown(document.body, key);
    expect(act).toHaveBeenCalledTimes(1);
  });
  it("does nothing while somebody types, nor for another key", () => {
    const act = vi.fn();
    render(<Screen act={act} name="why" />);
    fireEvent.keyDown(screen.getByLabelText("Note"), { key: "w" });
    fireEvent.keyDown(document.body, { key: "v" });
    fireEvent.keyDown(document.body, { key: "w", ctrlKey: true });
    expect(act).not.toHaveBeenCalled();
  });
});
