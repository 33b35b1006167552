import type { Answer, FigureAnswer, PlanAnswer } from "../api/types";
import { tokens } from "../theme";
import { useAsked, type Asked } from "../why/why";
import { LEFT, RIGHT, TOP, type Heights, type Size, type Slot } from "./layout";

/** Heights of a figure that stand in its slot, and what it spends from its start. */
const HEIGHTS = [
  "start",
  "lowest_start",
  "take_over",
  "recovers",
  "lowest_point",
  "highest_point",
  "ends",
] as const;
const SPENT = ["likely", "worst"] as const;
type Part = (typeof HEIGHTS)[number] | (typeof SPENT)[number] | "floor" | "entry";
const PARTS: readonly Part[] = [...HEIGHTS, ...SPENT, "floor", "entry"];

export type About =
  | { kind: "height"; figure: FigureAnswer; feet: number }
  | { kind: "spent"; figure: FigureAnswer; from: number; to: number }
  | { kind: "across"; feet: number }
  | { kind: "figure"; figure: FigureAnswer };

/** What a number that is asked about stands for on the strip; null for one that has no place there. Pure. */
export function aboutOf(plan: PlanAnswer, { answer, label }: Asked): About | null {
  const across = [plan.floor, plan.block_top, ...(plan.leave ? [plan.leave] : [])];
  const line = across.find((a) => a === answer);
  if (line) return { kind: "across", feet: line.value };
  const figure =
    plan.figures.find((f) => numbersOf(f).includes(answer)) ??
    plan.figures.find((f) =>
      plan.checks.some((c) => c.figure === f.id && (c.deciding === answer || c.limit === answer)),
    );
  if (!figure) return null;
  const part =
    PARTS.find((p) => figure[p].label === label) ?? PARTS.find((p) => figure[p] === answer) ?? null;
  if (part === null) return { kind: "figure", figure };
  if (part === "floor") return { kind: "across", feet: figure.floor.value };
  if (part === "entry") return { kind: "height", figure, feet: figure.start.value };
  const start = figure.start.value;
  if (part === "likely" || part === "worst")
    return { kind: "spent", figure, from: start, to: start - figure[part].value };
  return { kind: "height", figure, feet: figure[part].value };
}

function numbersOf(figure: FigureAnswer): Answer[] {
  const found: Answer[] = [];
  for (const part of [...Object.values(figure), ...Object.values(figure.joined)])
    if (typeof part === "object" && part !== null && "shown" in part) found.push(part);
  return found;
}

interface Props {
  plan: PlanAnswer;
  places: Slot[];
  up: Heights;
  size: Size;
}

/** The number that the panel explains, marked on the picture. */
export function AskedMark({ plan, places, up, size }: Props) {
  const asked = useAsked();
  const about = asked && aboutOf(plan, asked);
  if (!about) return null;
  const d = pathOf(about, plan, places, up, size);
  return (
    <g data-asked={about.kind} fill="none" strokeLinecap="round" strokeLinejoin="round" pointerEvents="none">
      <path d={d} stroke={tokens.sheet} strokeWidth="9" />
      <path d={d} stroke={tokens.ink} strokeWidth="3.5" />
    </g>
  );
}

function pathOf(about: About, plan: PlanAnswer, places: Slot[], up: Heights, size: Size): string {
  if (about.kind === "across") return `M${LEFT} ${up.y(about.feet)}H${size.width - RIGHT}`;
  const slot = places[plan.figures.indexOf(about.figure)];
  if (!slot) return "";
  const [left, right] = [slot.left - 9, slot.right + 9];
  if (about.kind === "height") return `M${left} ${up.y(about.feet)}H${right}`;
  if (about.kind === "figure") return `M${left} ${TOP + 4}H${right}V${up.floorY - 3}H${left}Z`;
  const [from, to] = [up.y(about.from), up.y(about.to)];
  return `M${right - 5} ${from}H${right}V${to}H${right - 5}`;
}
