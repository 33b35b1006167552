import { readJson } from "../frame/files";
import { at, put } from "./paths";

describe("deep inside a document", () => {
  const card = { speeds: { stall_ias: { value: 52 } }, tanks: [{ name: "Left" }, { name: "Right" }] };
  it("reads and sets by a path without touching the rest", () => {
    expect(at(card, "speeds.stall_ias.value")).toBe(52);
    expect(at(card, "tanks.1.name")).toBe("Right");
    expect(at(card, "spin.turn_s.value")).toBeUndefined();
    const changed = put(card, "tanks.1.name", "Wing");
    expect(changed.tanks.map((t) => t.name)).toEqual(["Left", "Wing"]);
    expect(card.tanks[1]?.name).toBe("Right");
    expect(changed.speeds).toBe(card.speeds);
    expect(put(card, "stage.first flights", 5)).toMatchObject({ stage: { "first flights": 5 } });
  });
});

describe("a file", () => {
  const file = (text: string) =>
    ({ name: "plan.json", size: text.length, text: () => Promise.resolve(text) }) as File;
  it("is read as JSON", async () => {
    expect(await readJson(file('{"a": 1}'))).toEqual({ a: 1 });
  });
  it("that is not JSON says where", async () => {
    await expect(readJson(file('{"a": 1,\n"b" 2}'))).rejects.toThrow(/not JSON/);
    await expect(readJson(file("  "))).rejects.toThrow(/the file is empty/);
    await expect(readJson({ ...file("{}"), name: "big.json", size: 5e6 })).rejects.toThrow(/has 5 MB/);
  });
});
