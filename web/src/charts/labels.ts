/** Words on a picture: each stands where it wants to, or as near to that as leaves every other word and mark free. Pure. */

export interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}
type Anchor = "start" | "middle" | "end";

export interface Label {
  /** The words, and shorter ones for less room, if there are any. */ words: string | readonly string[];
  /** Of the baseline, at the anchor. */ x: number;
  y: number;
  anchor?: Anchor;
  size?: number;
  bold?: boolean;
  colour: string;
  /** Other places to try, from where it wants to stand, before those around it. */ tries?: readonly Try[];
  /** It is left out where there is no room, instead of lying on something. */ optional?: boolean;
}
type Try = readonly [dx: number, dy: number, anchor?: Anchor];

export interface Placed {
  words: string;
  x: number;
  y: number;
  anchor: Anchor;
  size: number;
  bold: boolean;
  colour: string;
  box: Box;
}

/** Letters of the narrow cut: about so wide, of their size. */
const WIDE = 0.475,
  WIDE_BOLD = 0.515;
/** Clear air around words. */
const AIR = 2;

/** In the order in which they are given: the earlier one has its place first. taken: what nothing may lie on; room: what
 * nothing may leave. */
export function placed(labels: readonly Label[], taken: readonly Box[], room: Box): Placed[] {
  const done: Placed[] = [];
  for (const label of labels) {
    const all = candidates(label);
    const boxes = [...taken, ...done.map((d) => d.box)];
    const free = all.find((c) => within(c.box, room) && boxes.every((b) => overlap(c.box, b) === 0));
    if (free) done.push(free);
    else if (!label.optional) {
      const cost = (c: Placed) =>
        boxes.reduce((sum, b) => sum + overlap(c.box, b), 0) + 4 * (area(c.box) - overlap(c.box, room));
      done.push(all.reduce((best, c) => (cost(c) < cost(best) ? c : best)));
    }
  }
  return done;
}

function candidates(label: Label): Placed[] {
  const { size = 12, bold = false, colour } = label;
  const list = typeof label.words === "string" ? [label.words] : label.words;
  const step = size * 1.15;
  const around: Try[] = [1, -1, 2, -2, 3, -3, 4, -4].map((n) => [0, n * step] as const);
  const aside: Try[] = around.flatMap(([, dy]) => [[14, dy, "start"] as const, [-14, dy, "end"] as const]);
  const tries: Try[] = [
    [0, 0],
    ...(label.tries ?? []),
    ...around,
    [14, 0, "start"],
    [-14, 0, "end"],
    ...aside,
  ];
  return list.flatMap((words) =>
    tries.map(([dx, dy, other]) => {
      const [x, y, anchor] = [label.x + dx, label.y + dy, other ?? label.anchor ?? "start"];
      return { words, x, y, anchor, size, bold, colour, box: boxOf(words, x, y, anchor, size, bold) };
    }),
  );
}

/** What words cover, about. */
export function boxOf(
  words: string,
  x: number,
  y: number,
  anchor: Anchor = "start",
  size = 12,
  bold = false,
): Box {
  const width = words.length * size * (bold ? WIDE_BOLD : WIDE);
  const left = anchor === "start" ? x : anchor === "end" ? x - width : x - width / 2;
  return {
    left: left - AIR,
    right: left + width + AIR,
    top: y - size * 0.82 - AIR / 2,
    bottom: y + size * 0.22 + AIR / 2,
  };
}

/** A mark around a point. */
export function around(x: number, y: number, reach: number): Box {
  return { left: x - reach, right: x + reach, top: y - reach, bottom: y + reach };
}

function overlap(a: Box, b: Box): number {
  const across = Math.min(a.right, b.right) - Math.max(a.left, b.left),
    down = Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top);
  return across > 0 && down > 0 ? across * down : 0;
}

function area(box: Box): number {
  return (box.right - box.left) * (box.bottom - box.top);
}

function within(box: Box, room: Box): boolean {
  return (
    box.left >= room.left - AIR &&
    box.right <= room.right + AIR &&
    box.top >= room.top - AIR &&
    box.bottom <= room.bottom + AIR
  );
}
