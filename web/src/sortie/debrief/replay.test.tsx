import { act, fireEvent, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import type { FigureFound, Trace } from "../../api/types";
import { alignedAtTheCall } from "./FlownAgain";
import { FlownSide } from "../../charts/FlownSide";
import { SpeedAndGFlown } from "../../charts/SpeedAndGFlown";
import { MovingAlong, MovingMark, MovingOnStrip } from "./Moving";
import { Replay, valueAt } from "./replay";
import { ReplayBar, type Word } from "./ReplayBar";
import { scaleLinear } from "d3-scale";

const trace: Trace = {
  seconds: [-2, 0, 4, 10],
  height_ft: [5000, 5000, 4600, 4200],
  ias: [60, 50, 70, 110],
  g: [1, 0.8, 1.2, 2.4],
  pitch_deg: [0, 10, -60, 0],
  bank_deg: [170, -170, 0, 0],
  heading_deg: [350, 10, 90, 90],
  east_ft: [],
  north_ft: [],
};

describe("a figure flown again", () => {
  let frames: ((now: number) => void)[] = [];
  let now = 0;
  beforeEach(() => {
    frames = [];
    now = 0;
    vi.stubGlobal("requestAnimationFrame", (frame: (now: number) => void) => frames.push(frame));
    vi.stubGlobal("cancelAnimationFrame", () => (frames = []));
    vi.spyOn(performance, "now").mockImplementation(() => now);
  });
  afterEach(() => {
    vi.unstubAllGlobals();
    vi.restoreAllMocks();
  });
  const passes = (ms: number) => {
    now += ms;
    const due = frames;
    frames = [];
    due.forEach((frame) => frame(now));
  };

  it("moves as fast as it is asked to, and holds at its end", () => {
    const replay = new Replay(-2, 10);
    replay.play();
    passes(1000);
    expect(replay.at).toBeCloseTo(1);
    replay.setSpeed(4);
    passes(500);
    expect(replay.at).toBeCloseTo(3);
    replay.setSpeed(0.25);
    passes(1000);
    expect(replay.at).toBeCloseTo(3.25);
    replay.setSpeed(4);
    passes(9000);
    expect(replay.at).toBe(10);
    expect(replay.playing).toBe(false);
    replay.play();
    expect(replay.at).toBe(-2);
  });
  it("goes over a part again and again, and is stepped by a tenth of a second", () => {
    const replay = new Replay(-2, 10);
    replay.setLoop([2, 4]);
    replay.play();
    expect(replay.at).toBe(2);
    passes(1900);
    expect(replay.at).toBeCloseTo(3.9);
    passes(300);
    expect(replay.at).toBe(2);
    expect(replay.playing).toBe(true);
    replay.step(1);
    expect(replay.playing).toBe(false);
    expect(replay.at).toBeCloseTo(2.1);
    replay.step(-1);
    expect(replay.at).toBeCloseTo(2);
    replay.setLoop([3, 3.01]);
    expect(replay.loop).toBeNull();
  });
  it("stops when nobody looks any more", () => {
    const replay = new Replay(0, 10);
    const leave = replay.subscribe(() => undefined);
    replay.play();
    leave();
    expect(replay.playing).toBe(false);
  });
  it("looks between the rows, round the compass the short way, and says what was not recorded", () => {
    expect(valueAt(trace, "height_ft", 2)).toBe(4800);
    expect(valueAt(trace, "height_ft", 99)).toBe(4200);
    expect(valueAt(trace, "height_ft", -99)).toBe(5000);
    expect(valueAt(trace, "bank_deg", -1, true)).toBe(180);
    expect(valueAt(trace, "heading_deg", -1, true)).toBe(360);
    expect(valueAt({ ...trace, g: [] }, "g", 0)).toBeNull();
  });
  it("lies over another go from where both were recovered", () => {
    const figure = (start_ft: number, before: number) =>
      ({
        measured: { start_ft, begins_s: 0, phases: [{ seconds: before }, { seconds: 3 }] },
      }) as unknown as FigureFound;
    expect(alignedAtTheCall(trace, figure(5000, 2), figure(6000, 5))[0]).toEqual([1, 0]);
    expect(alignedAtTheCall(trace, figure(5000, 2), figure(6000, 5))[3]).toEqual([13, -800]);
  });

  function bar(onWord?: (word: Word) => void) {
    const replay = new Replay(-2, 10);
    const gone: Word[] = [],
      chosen: string[] = [];
    render(
      <ReplayBar
        replay={replay}
        trace={trace}
        title="One-turn spin, left"
        speedUnit="kt"
        against={[{ key: "best", words: "the best by this method" }]}
        chosen=""
        onChoose={(key) => chosen.push(key)}
        words={[{ at_s: 4, word: "froze" }]}
        onWord={onWord}
        onWithout={(word) => gone.push(word)}
      />,
    );
    return { replay, gone, chosen };
  }
  it("says what stood at the moment, and goes to one that has a word", async () => {
    const { replay } = bar();
    expect(screen.getByText("0.0 s: 5,000 ft, 50 kt, 0.8 g")).toBeVisible();
    await userEvent.click(screen.getByRole("button", { name: "4.0 s: froze" }));
    expect(replay.at).toBe(4);
    expect(screen.getByText("4.0 s: 4,600 ft, 70 kt, 1.2 g")).toBeVisible();
    expect(screen.queryByRole("button", { name: /A word/ })).toBeNull();
    expect(screen.queryByRole("button", { name: "Without froze" })).toBeNull();
  });
  it("takes a word to the moment, and takes one away", async () => {
    const told: Word[] = [];
    const { replay, gone } = bar((word) => told.push(word));
    act(() => replay.seek(2.04));
    await userEvent.click(screen.getByRole("button", { name: "A word…" }));
    await userEvent.type(screen.getByRole("textbox", { name: "Word to this moment" }), "let go{Enter}");
    expect(told).toEqual([{ at_s: 2, word: "let go" }]);
    await userEvent.click(screen.getByRole("button", { name: "Without froze" }));
    expect(gone).toEqual([{ at_s: 4, word: "froze" }]);
  });
  it("is played by its key, stepped by others, and set against another flight", async () => {
    const { replay, chosen } = bar();
    fireEvent.keyDown(document.body, { key: "p" });
    expect(replay.playing).toBe(true);
    fireEvent.keyDown(document.body, { key: "." });
    expect(replay.playing).toBe(false);
    expect(replay.at).toBeCloseTo(0.1);
    fireEvent.keyDown(document.body, { key: "," });
    expect(replay.at).toBeCloseTo(0);
    await userEvent.click(screen.getByRole("button", { name: "Over and over" }));
    expect(replay.loop).toEqual([-2, 2]);
    fireEvent.mouseDown(screen.getByRole("combobox", { name: /Against/ }));
    await userEvent.click(screen.getByRole("option", { name: "against the best by this method" }));
    expect(chosen).toEqual(["best"]);
  });
  it("moves its mark along the height flown", () => {
    const replay = new Replay(-2, 10);
    const [x, y] = [
      scaleLinear().domain([-2, 10]).range([0, 120]),
      scaleLinear().domain([4000, 5000]).range([100, 0]),
    ];
    const { container } = render(
      <svg>
        <MovingMark
          replay={replay}
          trace={trace}
          scales={{ x, y, top: 0, bottom: 100, right: 120 }}
          words={[]}
        />
      </svg>,
    );
    act(() => replay.seek(4));
    const mark = container.querySelector("circle");
    expect([mark?.getAttribute("cx"), mark?.getAttribute("cy")]).toEqual(["60", "40"]);
  });
});

describe("where it is at a moment", () => {
  const flown: Trace = {
    ...trace,
    heading_deg: [90, 90, 90, 90],
    east_ft: [-200, 0, 300, 900],
    north_ft: [0, 0, 50, 90],
  };
  const drawnAt = (draw: (replay: Replay) => React.ReactNode, at: number) => {
    const replay = new Replay(-2, 10);
    replay.seek(at);
    const { container, unmount } = render(<>{draw(replay)}</>);
    const found = container.innerHTML;
    unmount();
    return found;
  };

  it("is said on the side view, along the way in which it began", () => {
    const side = (replay: Replay) => (
      <FlownSide
        trace={flown}
        title="Loop"
        size={190}
        over={(on) => <MovingAlong replay={replay} trace={flown} on={on} />}
      />
    );
    render(side(new Replay(-2, 10)));
    expect(
      screen.getByRole("img", { name: "Loop as flown, from the side: 1,100 ft along, 800 ft high" }),
    ).toBeInTheDocument();
    const nose = (html: string) => Number(/<circle cx="([-\d.]+)"/.exec(html)?.[1]);
    expect(nose(drawnAt(side, 10))).toBeGreaterThan(nose(drawnAt(side, 0)) + 50);
  });
  it("is not drawn from the side where the way is not known", () => {
    const { container } = render(<FlownSide trace={trace} title="Loop" size={190} />);
    expect(container).toBeEmptyDOMElement();
  });
  it("stands in the figure's slot on the strip, within its two ends", () => {
    const asked: [string, number, number][] = [];
    const mark = (replay: Replay) => (
      <MovingOnStrip
        replay={replay}
        trace={flown}
        figure="f1"
        ends_s={8}
        on={(...where) => {
          asked.push(where);
          return [where[1] * 100, where[2] / 10];
        }}
      />
    );
    expect(drawnAt((r) => <svg>{mark(r)}</svg>, 4)).toContain('cx="50" cy="460"');
    drawnAt((r) => <svg>{mark(r)}</svg>, 10);
    drawnAt((r) => <svg>{mark(r)}</svg>, -2);
    expect(asked.map(([figure, share]) => [figure, share])).toEqual([
      ["f1", 0.5],
      ["f1", 1],
      ["f1", 0],
    ]);
  });
  it("has the speed and g that it went through under it, as they were recorded", () => {
    render(<SpeedAndGFlown trace={flown} unit="kt" />);
    expect(screen.getByRole("img", { name: "Speed over the figure: 50 to 110 kt" })).toBeInTheDocument();
    expect(screen.getByText("0.8 to 2.4 g")).toBeInTheDocument();
    const { container } = render(<SpeedAndGFlown trace={{ ...flown, ias: [], g: [] }} unit="kt" />);
    expect(container).toBeEmptyDOMElement();
  });
});
