import { screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { sortie } from "../../fixtures";
import { attempts, breath, briefed, fly, key, landed, press } from "./flying.fixtures";

beforeEach(() => {
  // The clock by which a bounce is known; what is typed takes its own time.
  vi.useFakeTimers({ toFake: ["performance"] });
});

describe("After landing", () => {
  const row = (name: string) => within(screen.getByRole("region", { name }));
  async function land() {
    await press("List");
    await press(/^Landed/);
  }

  it("offers what the plan has for what is missing, and takes it only when it is said", async () => {
    fly();
    await userEvent.click(key("At the gate"));
    await land();
    expect(screen.getByRole("heading", { name: "Heights missing in 2 of 2" })).toBeVisible();
    const lowest = row("Spin f1").getByRole("textbox", { name: "Spin f1: Lowest" });
    expect(lowest).toHaveValue("");
    expect(lowest).toHaveAttribute("placeholder", "4000?");
    await userEvent.type(lowest, "3900");
    await userEvent.tab();
    expect(attempts[0]).toMatchObject({ start_ft: 5000, recover_ft: null, lowest_ft: 3900, level_ft: null });
    await userEvent.click(row("Spin f1").getByRole("button", { name: "As planned" }));
    expect(attempts[0]).toMatchObject({ start_ft: 5000, recover_ft: 4600, lowest_ft: 3900, level_ft: 3900 });
    // What was typed was read off; the rest is the plan's.
    expect(new Set(attempts[0]?.offered)).toEqual(new Set(["start_ft", "recover_ft", "level_ft"]));
    expect(screen.getByRole("heading", { name: "Heights missing in 1 of 2" })).toBeVisible();
    await userEvent.click(row("Spin f2").getByRole("button", { name: "Not flown" }));
    expect(attempts[1]).toMatchObject({ skipped: true, start_ft: null });
    expect(screen.getByRole("heading", { name: "All heights are noted" })).toBeVisible();
  });
  it("has every go at a figure in a row of its own", async () => {
    fly();
    await userEvent.click(key("At the gate"));
    await press("Again");
    breath();
    await userEvent.click(key("At the gate"));
    await land();
    expect(screen.getAllByRole("region").map((r) => r.getAttribute("aria-label"))).toEqual([
      "Spin f1",
      "Spin f1, go 2",
      "Spin f2",
    ]);
  });
  it("goes on to the debrief, where nothing is in the way", async () => {
    fly(briefed({ may: { ...sortie({ stage: "briefed" }).may, move: "flown" } }));
    await land();
    await press(/^Debrief/);
    expect(landed).toHaveBeenCalledWith("flown", "debrief");
  });
  it("says what is in the way", async () => {
    fly(briefed({ may: { ...sortie().may, move: null }, missing: { flown: ["Note the start."] } }));
    await land();
    expect(screen.getByRole("button", { name: /^Debrief/ })).toBeDisabled();
    expect(screen.getByText("Note the start.")).toBeVisible();
  });
});
