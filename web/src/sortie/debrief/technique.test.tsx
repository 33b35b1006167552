import { render, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import type { AccountTold, FaultSeen, Lanes, Technique } from "../../api/types";
import { ControlLanes } from "../../charts/ControlLanes";
import { WentAccount } from "../../charts/WentAccount";
import { attempt, planned } from "../../fixtures";
import { Findings } from "./Findings";
import { WhereItWent } from "./WhereItWent";

const spin = planned("f1");
const feet = (label: string, value: number, shown: string) => ({
  ...{ label, value, shown, unit: "ft", number: String(value), formula: "", inputs: [], levers: [] },
  ...{ source: { kind: "model" as const, words: "" }, hill: null, pilot: [] },
});
const account: AccountTold = {
  flown: feet("Flown, start to lowest", 500, "500 ft"),
  best: feet("Best possible", 310, "310 ft"),
  bound: null,
  steps: [
    {
      names: ["Called late, seeing it"],
      doubt_ft: 60,
      height: feet("Called late, seeing it", 150, "+150 ft"),
      usual_ft: 0,
      doubt: "60 ft",
      clear: true,
    },
    {
      names: ["Pull"],
      doubt_ft: 40,
      height: feet("Pull", 30, "+30 ft"),
      usual_ft: 0,
      doubt: "40 ft",
      clear: false,
    },
    {
      names: ["Everything else"],
      doubt_ft: 30,
      height: feet("Everything else", 10, "+10 ft"),
      usual_ft: 0,
      doubt: "30 ft",
      clear: false,
    },
  ],
};
const late: FaultSeen = {
  ...{
    key: "stick_late",
    words: "Stick forward late",
    does: "Each turn is paid.",
    looks_at: "rudder to stick",
  },
  ...{
    found: true,
    sure: true,
    value: "1.4 s",
    number: 1.4,
    doubt: 0.1,
    limit: "0.9 s",
    more: true,
    control: "Stick",
    at_s: 5,
  },
  ...{ cost_ft: 188, cost_doubt_ft: 40, with_others: [] },
  source: { kind: "common practice", words: "no published source" },
};
const early: FaultSeen = {
  ...late,
  key: "power_late",
  words: "Power closed late",
  found: false,
  value: "0.1 s",
};
const lanes: Lanes = {
  ...{ called_s: 4, from_s: -2, to_s: 6, from_controls: false },
  lanes: [
    {
      control: "Stick",
      flown: [
        { from_s: -2, to_s: 0.8, way: "back", share: 1 },
        { from_s: 1.4, to_s: 2, way: "forward", share: 0.4 },
      ],
      method: [{ from_s: 0.9, to_s: 2.1, way: "forward", share: 0.4 }],
    },
    { control: "Aileron", flown: [], method: [] },
  ],
};

beforeAll(() => {
  vi.stubGlobal(
    "ResizeObserver",
    class {
      observe() {}
      disconnect() {}
    },
  );
});

describe("where the height went", () => {
  it("hangs each step where the last one ended, with its doubt", () => {
    vi.mocked(getComputedStyle).mockRestore();
    render(<WentAccount account={account} />);
    const rows = within(screen.getByRole("table", { name: "Where the height went" })).getAllByRole("row");
    expect(rows.map((row) => row.textContent)).toEqual([
      "Best possible310 ft",
      "Called late, seeing it+150 ft±60",
      "Pull+30 ft±40",
      "Everything else+10 ft±30",
      "Flown, start to lowest500 ftmeasured",
    ]);
    const bars = screen.getAllByRole("presentation").map((bar) => getComputedStyle(bar.firstElementChild!));
    expect(bars.map((bar) => bar.left)).toEqual(["0%", "62%", "92%", "98%"]);
  });
  it("is against the brief where it cannot be split, with what is known of the pilot below", () => {
    const technique: Technique = {
      ...{ recorded: true, says: "The model's flight does not come near this one.", begins_s: 0 },
      ...{ lanes: null, faults: [], best_path: [], unseen: [], account: null },
      numbers: [{ name: "pull_g", label: "Pull", value: "−0.4 g", doubt: "0.1 g", usual: "0.0 g" }],
    };
    render(
      <WhereItWent
        attempt={attempt(spin, { skipped: true })}
        title="Spin"
        briefed={undefined}
        technique={technique}
        beside
        waiting={false}
      />,
    );
    expect(screen.getByText("Skipped.")).toBeVisible();
    expect(screen.getByText("The model's flight does not come near this one.")).toBeVisible();
    expect(screen.getByRole("row", { name: "Pull −0.4 g ±0.1 g 0.0 g" })).toBeVisible();
  });
  it("waits where a recording is being split", () => {
    render(
      <WhereItWent
        attempt={attempt(spin)}
        title="Spin"
        briefed={undefined}
        technique={undefined}
        beside
        waiting
      />,
    );
    expect(screen.getByRole("progressbar", { name: "Where the height went" })).toBeVisible();
  });
});

describe("what the recording shows", () => {
  it("stands beside what was ticked, and can be noted", async () => {
    const edits: object[] = [];
    render(<Findings attempt={attempt(spin)} faults={[late, early]} editable edit={(e) => edits.push(e)} />);
    const found = screen.getByRole("list", { name: "Faults that the recording shows" });
    expect(found).toHaveTextContent("1Stick forward late190 ft");
    expect(found).toHaveTextContent("rudder to stick 1.4 s, a fault above 0.9 s. Not noted.");
    expect(found).not.toHaveTextContent("Power closed late");
    await userEvent.click(screen.getByRole("button", { name: "Note it" }));
    expect(edits).toEqual([{ fault: { stick_late: true } }]);
  });
  it("says where its limits come from, and shows each at its place on the trace", async () => {
    const went: number[] = [];
    const go = (at: number) => went.push(at);
    const by = {
      ...late,
      source: { ...late.source, kind: "regulation" as const, words: "steep turns within 100 ft" },
    };
    const { rerender } = render(
      <Findings attempt={attempt(spin)} faults={[by]} editable edit={() => undefined} onGo={go} />,
    );
    expect(screen.getByText("Limits: regulation: steep turns within 100 ft.")).toBeVisible();
    await userEvent.click(screen.getByRole("button", { name: "1, where it stands on the trace" }));
    expect(went).toEqual([late.at_s]);
    rerender(<Findings attempt={attempt(spin)} faults={[by]} editable edit={() => undefined} />);
    expect(screen.getByRole("button", { name: "1, where it stands on the trace" })).toBeDisabled();
  });
  it("says so where it was noted too, and where it does not show what was noted", async () => {
    const edits: object[] = [];
    const ticked = attempt(spin, { faults: ["stick_late", "power_late"] });
    render(<Findings attempt={ticked} faults={[late, early]} editable edit={(e) => edits.push(e)} />);
    expect(screen.getByText(/Noted too/)).toBeVisible();
    expect(screen.getByText(/Noted; the recording does not show it: rudder to stick 0.1 s/)).toBeVisible();
    await userEvent.click(screen.getByRole("button", { name: "Strike it" }));
    expect(edits).toEqual([{ fault: { power_late: false } }]);
  });
  it("has no feet where they cannot be told from others, and says what is only likely", () => {
    const mixed = { ...late, sure: false, with_others: ["Rudder"] };
    render(<Findings attempt={attempt(spin)} faults={[mixed]} editable edit={() => undefined} />);
    expect(screen.getByText("not split")).toBeVisible();
    expect(screen.getByText(/^likely: rudder to stick/)).toBeVisible();
  });
  it("says so where there is none", () => {
    render(<Findings attempt={attempt(spin)} faults={[early]} editable edit={() => undefined} />);
    expect(screen.getByText("The recording shows none of the faults that it can.")).toBeVisible();
  });
});

describe("the lanes", () => {
  it("are said in words, without a control that nobody moved, and lead to a fault", async () => {
    const chosen: string[] = [];
    render(
      <ControlLanes lanes={lanes} faults={[late]} onFault={({ key }) => chosen.push(key)} title="Spin" />,
    );
    expect(screen.getByRole("img", { name: "Spin: order and timing of the inputs" })).toBeVisible();
    expect(
      screen.getByText(
        "Stick: back from −2.0 s to 0.8 s, forward from 1.4 s to 2.0 s; as briefed forward from 0.9 s to 2.1 s",
      ),
    ).toBeInTheDocument();
    expect(screen.queryByText("Aileron")).toBeNull();
    await userEvent.click(screen.getByText("1"));
    expect(chosen).toEqual(["stick_late"]);
  });
});
