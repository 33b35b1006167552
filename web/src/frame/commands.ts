/** Everything that has a key: which, where, and what it does. Screens bind them, controls show them, Help lists them. */
import { useKeys } from "./keys";

export interface Command {
  keys: readonly string[];
  /** How the key is written on a control and in Help. */ shown: string;
  words: string;
  where: string;
}

const SORTIE = "In a sortie",
  WEEK = "In the week",
  PLAN = "In Plan",
  BRIEF = "In Brief",
  DEBRIEF = "In Debrief",
  ALWAYS = "Everywhere";

export const COMMANDS = {
  why: { keys: ["w"], shown: "w", words: "why: the working behind the focused number", where: ALWAYS },
  find: { keys: ["/"], shown: "/", words: "find anything", where: ALWAYS },
  help: { keys: ["?"], shown: "?", words: "this help", where: ALWAYS },
  newSortie: { keys: ["n"], shown: "n", words: "in Today: plan a sortie", where: ALWAYS },
  weekBack: { keys: ["["], shown: "[", words: "the week before", where: WEEK },
  weekOn: { keys: ["]"], shown: "]", words: "the week after", where: WEEK },
  next: { keys: ["j"], shown: "j", words: "next figure", where: ALWAYS },
  previous: { keys: ["k"], shown: "k", words: "previous figure", where: ALWAYS },
  plan: { keys: ["1"], shown: "1", words: "Plan", where: SORTIE },
  brief: { keys: ["2"], shown: "2", words: "Brief", where: SORTIE },
  fly: { keys: ["3"], shown: "3", words: "Fly", where: SORTIE },
  debrief: { keys: ["4"], shown: "4", words: "Debrief", where: SORTIE },
  sign: { keys: ["5"], shown: "5", words: "Sign", where: SORTIE },
  undo: { keys: ["ctrl+z"], shown: "Ctrl Z", words: "undo", where: SORTIE },
  redo: { keys: ["ctrl+Z", "ctrl+y"], shown: "Ctrl Shift Z", words: "redo", where: SORTIE },
  add: { keys: ["a"], shown: "a", words: "add a figure", where: PLAN },
  fit: { keys: ["f"], shown: "f", words: "fit it: order and heights that keep every limit", where: PLAN },
  accept: { keys: ["Enter"], shown: "Enter", words: "accept what is ticked of the proposal", where: PLAN },
  leave: { keys: ["Escape"], shown: "Esc", words: "leave the proposal", where: PLAN },
  repeat: { keys: ["r"], shown: "r", words: "repeat the chosen figure", where: PLAN },
  mirror: { keys: ["m"], shown: "m", words: "the chosen figure to the other side", where: PLAN },
  remove: { keys: ["Delete"], shown: "Del", words: "remove the chosen figure", where: PLAN },
  earlier: { keys: ["["], shown: "[", words: "chosen figure earlier", where: PLAN },
  later: { keys: ["]"], shown: "]", words: "chosen figure later", where: PLAN },
  higher: {
    keys: ["ArrowUp"],
    shown: "↑",
    words: "start 50 ft higher; on its notch with Shift 10 ft",
    where: PLAN,
  },
  lower: {
    keys: ["ArrowDown"],
    shown: "↓",
    words: "start 50 ft lower; on its notch with Shift 10 ft",
    where: PLAN,
  },
  turnPage: { keys: ["ArrowRight", "PageDown", "j"], shown: "j", words: "next page", where: BRIEF },
  turnBack: { keys: ["ArrowLeft", "PageUp", "k"], shown: "k", words: "page before", where: BRIEF },
  firstPage: { keys: ["Home"], shown: "Home", words: "the first page", where: BRIEF },
  fullScreen: { keys: ["x"], shown: "x", words: "full screen", where: BRIEF },
  print: { keys: ["p"], shown: "p", words: "print the card", where: BRIEF },
  play: { keys: [" "], shown: "space", words: "fly the figure on the page, or hold it", where: BRIEF },
  replay: { keys: ["p"], shown: "p", words: "replay the recorded figure, or hold it", where: DEBRIEF },
  frameBack: { keys: [","], shown: ",", words: "a tenth of a second back", where: DEBRIEF },
  frameOn: { keys: ["."], shown: ".", words: "a tenth of a second on", where: DEBRIEF },
  gradeShown: { keys: ["s"], shown: "s", words: "grade: Shown", where: DEBRIEF },
  gradeNotYet: { keys: ["y"], shown: "y", words: "grade: Not yet", where: DEBRIEF },
  gradeGuided: { keys: ["g"], shown: "g", words: "grade: Guided", where: DEBRIEF },
  gradeSound: { keys: ["o"], shown: "o", words: "grade: Sound", where: DEBRIEF },
  gradeSoloReady: { keys: ["r"], shown: "r", words: "grade: Solo-ready", where: DEBRIEF },
} as const satisfies Record<string, Command>;

export type CommandName = keyof typeof COMMANDS;
export type Commands = Partial<Record<CommandName, () => void>>;

/** Bind commands to what they do on this screen. */
export function useCommands(commands: Commands) {
  const keys = Object.entries(commands).flatMap(([name, act]) =>
    COMMANDS[name as CommandName].keys.map((key) => [key, act] as const),
  );
  useKeys(Object.fromEntries(keys));
}

/** Commands by where they work, in their order. */
export function byPlace(): [where: string, commands: Command[]][] {
  const found = new Map<string, Command[]>();
  for (const command of Object.values(COMMANDS))
    found.set(command.where, [...(found.get(command.where) ?? []), command]);
  return [...found];
}
