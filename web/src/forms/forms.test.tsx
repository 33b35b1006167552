import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useForm, type FieldValues } from "react-hook-form";
import type { FieldSpec } from "../api/types";
import { readJson } from "../frame/files";
import { blankPart, filled, problemsAt, unplaced } from "./fill";
import { Sections } from "./Sections";

const field = (path: string, enter: FieldSpec["enter"], over: Partial<FieldSpec> = {}): FieldSpec => ({
  path,
  enter,
  label: path,
  unit: "",
  under: "",
  within: "",
  optional: false,
  choices: enter === "stated" ? ["flight manual", "placard"] : [],
  least_rows: 0,
  estimated: false,
  of: [],
  ...over,
});
const STALL = field("speeds.stall_ias", "stated", { label: "Stall", unit: "speed", under: "Speeds" });
const INVERTED = field("limits.inverted_s", "stated", { label: "Inverted", unit: "s", optional: true });
const TURN = field("spin.turn_s", "stated", { within: "spin" });
const TANKS = field("tanks", "list", {
  label: "Tanks",
  least_rows: 1,
  most_rows: 2,
  of: [field("name", "text", { label: "Tank" }), field("usable", "number", { label: "Usable" })],
});

describe("what is sent of a form", () => {
  it("leaves out what was left blank, and what stands in a part that is switched off", () => {
    const typed = {
      speeds: { stall_ias: { value: 52, source: "placard", ref: "" } },
      limits: { inverted_s: { value: null, source: "flight manual", ref: "" } },
      spin: null,
      station: "",
    };
    const station = field("station", "text", { optional: true });
    expect(filled(typed, [STALL, INVERTED, TURN, station, TANKS])).toEqual({
      speeds: typed.speeds,
      limits: { inverted_s: null },
      spin: null,
      station: null,
      tanks: [],
    });
    expect(typed.limits.inverted_s).not.toBeNull();
  });
  it("sends what a field shows where nothing was chosen, not nothing", () => {
    const mass = field("spin.mass", "choice", {
      within: "spin",
      choices: ["along", "across"],
      usual: "along",
    });
    const kinds = field("spin.for", "choices", { within: "spin", choices: ["upright"], usual: ["upright"] });
    const approved = field("spin.approved", "switch", { within: "spin" });
    const shown = [mass, kinds, approved, field("recorder", "text"), TURN];
    expect(filled({ spin: {} }, shown)).toEqual({
      spin: { mass: "along", for: ["upright"], approved: false, turn_s: undefined },
      recorder: "",
    });
    expect(filled({ spin: null }, shown)).toEqual({ spin: null, recorder: "" });
    expect(blankPart([mass, kinds, approved], "spin")).toEqual({
      mass: "along",
      for: ["upright"],
      approved: false,
    });
  });
  it("sends a number that is needed as it is, so that it is asked for", () => {
    const typed = { speeds: { stall_ias: { value: null, source: "placard", ref: "" } } };
    expect(filled(typed, [STALL])).toEqual(typed);
  });
});

describe("what is wrong", () => {
  const problem = (where: string) => ({ where, place: where, what: "wrong", do: "Mend it." });
  it("stands at its field, inside it or in its rows", () => {
    const all = [problem("card.speeds.stall_ias.value"), problem("card.tanks[1].usable"), problem("card")];
    expect(problemsAt(all, "card", "speeds.stall_ias")).toEqual([all[0]]);
    expect(problemsAt(all, "card", "tanks.1.usable")).toEqual([all[1]]);
    expect(problemsAt(all, "card", "tanks.0.usable")).toEqual([]);
    expect(unplaced(all, "card", [STALL, TANKS])).toEqual([all[2]]);
  });
});

function Form({
  fields,
  start,
  onSent,
}: {
  fields: FieldSpec[];
  start: object;
  onSent: (sent: unknown) => void;
}) {
  const { control, handleSubmit } = useForm<FieldValues>({ defaultValues: start });
  const problems = [
    { where: "card.speeds.stall_ias", place: "Stall", what: "too fast", do: "Copy it again." },
  ];
  return (
    <>
      <Sections fields={fields} control={control} speedUnit="mph" problems={problems} in_="card" />
      <button onClick={() => void handleSubmit((typed) => onSent(filled(typed, fields)))()}>Store</button>
    </>
  );
}

describe("a form made from fields", () => {
  it("shows unit, source and problem of a number, and what is not given as not given", async () => {
    const sent: unknown[] = [];
    const start = { speeds: { stall_ias: { value: 52, source: "flight manual", ref: "" } } };
    const guessed = field("limits.turn", "stated", { label: "Turn", optional: true, estimated: true });
    render(<Form fields={[STALL, INVERTED, guessed]} start={start} onSent={(s) => sent.push(s)} />);
    expect(screen.getByText(", mph")).toBeVisible();
    expect(screen.getByRole("alert")).toHaveTextContent("too fast. Copy it again.");
    expect(screen.getByLabelText("Inverted")).toHaveValue("");
    expect(screen.getByLabelText("Inverted")).toHaveAttribute("placeholder", "not given");
    expect(screen.getByLabelText("Turn")).toHaveAttribute("placeholder", "estimated");
    await userEvent.type(screen.getByLabelText("Inverted"), "10");
    await userEvent.type(screen.getByLabelText("Stall, where it says so"), "page 5");
    await userEvent.click(screen.getByRole("button", { name: "Store" }));
    expect(sent).toEqual([
      {
        speeds: { stall_ias: { value: 52, source: "flight manual", ref: "page 5" } },
        limits: { inverted_s: { value: 10, source: "flight manual", ref: "" }, turn: null },
      },
    ]);
  });
  it("shows words as words beside numbers with a source", async () => {
    const sent: unknown[] = [];
    const recorder = field("recorder", "text", { label: "Recorder" });
    render(<Form fields={[STALL, recorder]} start={{ recorder: "" }} onSent={(s) => sent.push(s)} />);
    await userEvent.type(screen.getByLabelText("Recorder"), "10.0.0.7");
    expect(screen.getByLabelText("Recorder")).toHaveValue("10.0.0.7");
    await userEvent.click(screen.getByRole("button", { name: "Store" }));
    expect(sent).toMatchObject([{ recorder: "10.0.0.7" }]);
  });
  it("takes several of what there is to choose from, or none", async () => {
    const sent: unknown[] = [];
    const methods = field("spin.does_not_stop", "choices", {
      label: "Does not stop it",
      choices: ["Centralise", "Hands off"],
    });
    render(<Form fields={[methods]} start={{}} onSent={(s) => sent.push(s)} />);
    const choice = screen.getByRole("combobox", { name: "Does not stop it" });
    expect(choice).toHaveTextContent("none");
    await userEvent.click(choice);
    await userEvent.click(screen.getByRole("option", { name: "Centralise" }));
    await userEvent.click(screen.getByRole("option", { name: "Hands off" }));
    await userEvent.keyboard("{Escape}");
    expect(choice).toHaveTextContent("Centralise; Hands off");
    await userEvent.click(screen.getByRole("button", { name: "Store" }));
    expect(sent).toEqual([{ spin: { does_not_stop: ["Centralise", "Hands off"] } }]);
  });
  it("adds and removes rows as far as the document allows", async () => {
    const sent: unknown[] = [];
    render(
      <Form
        fields={[TANKS]}
        start={{ tanks: [{ name: "Left", usable: 10 }] }}
        onSent={(s) => sent.push(s)}
      />,
    );
    expect(screen.getByRole("button", { name: "Remove row 1 of Tanks" })).toBeDisabled();
    await userEvent.click(screen.getByRole("button", { name: "Add a row: Tanks" }));
    expect(screen.getByRole("button", { name: "Add a row: Tanks" })).toBeDisabled();
    await userEvent.type(screen.getAllByLabelText("Tank")[1]!, "Right");
    await userEvent.click(screen.getByRole("button", { name: "Remove row 1 of Tanks" }));
    await userEvent.click(screen.getByRole("button", { name: "Store" }));
    expect(sent).toEqual([{ tanks: [{ name: "Right", usable: null }] }]);
  });
});

describe("a file", () => {
  const file = (text: string, name = "plan.json", size = text.length) =>
    ({ name, size, text: () => Promise.resolve(text) }) as File;
  it("is read as JSON", async () => {
    expect(await readJson(file('{"a": 1}'))).toEqual({ a: 1 });
  });
  it("that is not JSON says where", async () => {
    await expect(readJson(file('{"a": 1,\n"b" 2}'))).rejects.toThrow(/not JSON/);
    await expect(readJson(file("  "))).rejects.toThrow(/the file is empty/);
    await expect(readJson(file("{}", "big.json", 5e6))).rejects.toThrow(/has 5 MB/);
  });
});
