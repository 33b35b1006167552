import type { Trace } from "../../api/types";
import type { Scales } from "../../charts/FigureTrace";
import { alongOf, type OnSide } from "../../charts/FlownSide";
import { Nose } from "../../charts/Nose";
import { OutOfWindow } from "../../charts/OutOfWindow";
import type { Eye } from "../../outside/scenery";
import { tokens } from "../../theme";
import type { OnStrip } from "../../strip/HeightStrip";
import { useMoment, valueAt, type Replay } from "./replay";

/** The width of a picture beside the replay's keys. */
export const VIEW = 172;

interface LineProps {
  replay: Replay;
  /** Where a moment stands. */ place: (at: number) => number;
  within: readonly [number, number];
  top: number;
  bottom: number;
}

/** The moment of the replay in a picture over time. */
export function MovingLine({ replay, place, within, top, bottom }: LineProps) {
  const x = place(useMoment(replay));
  if (x < within[0] || x > within[1]) return null;
  return <path d={`M${x} ${top}V${bottom}`} stroke={tokens.ink} strokeWidth="1.6" />;
}

/** The same on the height flown, with words that were put to moments. */
export function MovingMark({
  replay,
  trace,
  scales: { x, y, top, bottom },
  words,
}: {
  replay: Replay;
  trace: Trace;
  scales: Scales;
  words: readonly { at_s: number; word: string }[];
}) {
  const at = useMoment(replay);
  const height = valueAt(trace, "height_ft", at);
  return (
    <>
      {words.map((one) => {
        const there = valueAt(trace, "height_ft", one.at_s);
        return there === null ? null : (
          <circle
            key={`${one.at_s} ${one.word}`}
            cx={x(one.at_s)}
            cy={y(there)}
            r="4"
            fill={tokens.sheet}
            stroke={tokens.mind}
            strokeWidth="2"
          />
        );
      })}
      <path d={`M${x(at)} ${top}V${bottom}`} stroke={tokens.ink} strokeWidth="1.6" />
      {height !== null && <circle cx={x(at)} cy={y(height)} r="5" fill={tokens.ink} />}
    </>
  );
}

/** In the figure's slot on the strip. */
export function MovingOnStrip({
  replay,
  trace,
  figure,
  ends_s,
  on,
}: {
  replay: Replay;
  trace: Trace;
  figure: string;
  ends_s: number;
  on: OnStrip;
}) {
  const at = useMoment(replay);
  const height = valueAt(trace, "height_ft", at),
    place = height === null ? null : on(figure, Math.min(1, Math.max(0, at / ends_s)), height);
  if (!place) return null;
  return (
    <circle cx={place[0]} cy={place[1]} r="5" fill={tokens.ink} stroke={tokens.sheet} strokeWidth="1.5" />
  );
}

/** From the side: the aircraft, nose and fin as it held them. */
export function MovingAlong({ replay, trace, on }: { replay: Replay; trace: Trace; on: OnSide }) {
  const at = useMoment(replay);
  const now = (column: keyof Trace, turning = false) => valueAt(trace, column, at, turning) ?? 0;
  const point = {
    along: alongOf(now("east_ft"), now("north_ft"), on.heading),
    height: now("height_ft"),
    pitch: now("pitch_deg"),
    bank: now("bank_deg", true),
    heading: now("heading_deg", true) - on.heading,
  };
  return <Nose point={point} x={on.x} y={on.y} colour={tokens.stop} big />;
}

/** What the pilot saw, where the attitude was recorded. */
export function SeenFrom({ replay, trace }: { replay: Replay; trace: Trace }) {
  const at = useMoment(replay);
  const now = (column: keyof Trace, turning = false) => valueAt(trace, column, at, turning);
  const pitch = now("pitch_deg"),
    bank = now("bank_deg", true),
    height = now("height_ft");
  if (pitch === null || bank === null || height === null) return null;
  const eye: Eye = {
    pitch,
    bank,
    height,
    heading: now("heading_deg", true) ?? 0,
    east: now("east_ft") ?? 0,
    north: now("north_ft") ?? 0,
  };
  return <OutOfWindow eye={eye} size={VIEW} />;
}
