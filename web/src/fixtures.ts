/** Small answers for tests of components. */
import { BLANK } from "./notes/addUp";
import type {
  Attempt,
  Working,
  CloserLook,
  FigureAnswer,
  PlanAnswer,
  PlannedFigure,
  Sortie,
  Stage,
} from "./api/types";

export function answer(
  label: string,
  value: number,
  shown = `${value.toLocaleString("en")} ft`,
  inputs: Working[] = [],
): Working {
  return {
    label,
    value,
    unit: "ft",
    number: shown.replace(/ [a-zA-Z]+$/, ""),
    shown,
    formula: `how ${label} comes about`,
    inputs,
    source: { kind: "model", words: "Keel Turn's flight model" },
    levers: [],
    pilot: [],
  };
}

export function figureAnswer(id: string, start = 5000, over: Partial<FigureAnswer> = {}): FigureAnswer {
  return {
    id,
    key: "spin",
    title: `Spin ${id}`,
    side: "left",
    school: "",
    school_key: "",
    school_from: { kind: "common practice", words: "no published source" },
    steps: [],
    spoken: "",
    purpose: "",
    look_at: "",
    power: "",
    attitude: "",
    faults: [],
    stop_words: [],
    start: answer("Start", start),
    entry: answer("Entry", 55),
    likely: answer("Likely", 1000),
    worst: answer("Worst", 1200),
    lowest_point: answer("Lowest", start - 1200),
    recovers: answer("Recover at", start - 400),
    highest_point: answer("Highest", start),
    ends: answer("Ends at", start - 1000),
    joined: { climb: answer("Climb before it", 1000), minutes: answer("Minutes before it", 2, "2 min") },
    floor: answer("Floor", 3000),
    school_words: "",
    lowest_start: answer("Lowest start", 4300),
    take_over: answer("My controls", 3700),
    take_over_words: "it is still turning",
    turns_allowed: null,
    exit_speed: answer("Exit", 90),
    fastest: answer("Fastest", 95),
    most_g: answer("Most g", 2.5, "2.5 g"),
    least_g: answer("Least g", 0.5, "0.5 g"),
    longest_negative: answer("Longest at negative g", 0, "0.0 s"),
    spends: "−1,000",
    of_the_manual: false,
    most_rolling_g: null,
    shortfall: null,
    account: [
      { part: "Entry and first turn", height_ft: 400, seconds: 3, shown: "400 ft" },
      { part: "Inputs", height_ft: 600, seconds: 6, shown: "600 ft" },
    ],
    profile: [
      [0, 0],
      [5, -500],
      [10, -1000],
    ],
    track: [
      [55, 1],
      [90, 2.5],
    ],
    starts_min: 5,
    ends_min: 5.2,
    verdict: "fine",
    lies: [],
    ...over,
  };
}

export function planAnswer(figures: FigureAnswer[]): PlanAnswer {
  return {
    figures,
    checks: [],
    floor: answer("Floor: school floor", 3000),
    floor_from: "school floor",
    ground: answer("Ground", 0),
    leave: answer("Leave", 1900),
    block_top: answer("Block top", 6500),
    weight: answer("Weight", 1600),
    stall: answer("Stall", 51),
    manoeuvring: answer("Va", 123),
    minutes: answer("Minutes", 20),
    climb: answer("Climb", 800),
    density_height: answer("Density height", 5200),
    unseen: "",
    titles: Object.fromEntries(figures.map((f) => [f.id, f.title])),
    stops: 0,
    minds: 0,
    envelope: {
      outline: [
        [0, 0],
        [120, 6],
        [170, 6],
        [170, -3],
        [90, -3],
      ],
      never_exceed: 170,
      rolling_g: 4,
      speed_unit: "kt",
    },
    load_points: [],
    drift: {
      total: answer("Drift", 1.2, "1.2 NM"),
      work_along: answer("Work along", 240, "240 °"),
      gained: answer("Gained", 0.4, "0.4 NM"),
      begin_upwind: answer("Begin upwind", 0.6, "0.6 NM"),
      crossings: figures.map((f) => ({
        figure: f.id,
        start_nm: [0.4, 0.2],
        end_nm: [0.6, 0.1],
        from_middle_nm: 0.6,
        outside: false,
      })),
      first_outside: null,
    },
    exposure: { pushes_before_pulls: [], comfort_load: 10, comfort_limit: 30, passes_limit_at: null },
  };
}

export function planned(id: string, over: Partial<PlannedFigure> = {}): PlannedFigure {
  return {
    id,
    key: "spin",
    side: "left",
    start_ft: 5000,
    entry_ias: null,
    parameters: {},
    school: null,
    flown_by: "student with talk",
    ...over,
  };
}

export function draft(figures: PlannedFigure[]) {
  const plan: Sortie["plan"] = {
    version: 1,
    lesson: "spins_both_ways",
    day: {
      qnh_hpa: 1013,
      temperature_c: 15,
      wind_from_deg: 0,
      wind_kt: 0,
      visibility_sm: 10,
      cloud_base_ft: null,
      no_cloud: true,
      winds: [],
      report: "",
      observed: null,
      sources: {},
    },
    load: {
      front_lb: 170,
      rear_lb: 170,
      front_parachute_lb: 15,
      rear_parachute_lb: 15,
      baggage_lb: 0,
      fuel_usgal: {},
    },
    feeling: null,
    own_floor_ft: null,
    figures,
    overrides: [],
  };
  return {
    plan,
    brief: { checked: [], note: "" },
    debrief: { note: "", one_thing: "", moments: [], next: "" },
    sheet_read: null,
    aircraft_id: 1,
    place_id: 1,
  };
}

/** What a session says besides who it is. */
export const NO_LETTERS = {
  asks_code: false,
  mail: false,
  letters_kept: false,
  school: "Skarra",
  first_start: false,
};

/** An attempt at a figure of which only this is noted. */
export function attempt(of: PlannedFigure, over: Partial<Attempt> = {}): Attempt {
  const noted = { ...over, flown_by: over.flown_by ?? of.flown_by };
  return { ...BLANK, id: of.id, planned: of, ...noted };
}

const STAGES: Stage[] = ["planned", "briefed", "flown", "debriefed", "signed"];

/** What the sortie's own instructor may do at this stage. */
export function mayAt(stage: Stage): Sortie["may"] {
  const at = STAGES.indexOf(stage);
  return {
    save: at < 4,
    plan: at < 2,
    note: at > 0 && at < 4,
    grade: at === 2 || at === 3,
    sign: at === 3,
    correct: at === 4,
    read: false,
    own_view: false,
    sheet: false,
    ask: false,
    book: at < 2,
    hand_over: false,
    move: at < 3 ? (STAGES[at + 1] ?? null) : null,
  };
}

export const READING_ONLY: Sortie["may"] = { ...mayAt("signed"), correct: false };

/** A sortie as the server gives it, with its figures planned and computed. */
/** Of a card and a place only what the screens under test look at. */
const CARD = {
  name: "Selkie 160",
  speed_unit: "kt",
  balance: {
    seats: [{ name: "Left" }, { name: "Right" }],
    tanks: [{ name: "Centre", usable_usgal: 26, feeds_aerobatics: true }],
    envelope: [],
  },
} as unknown as Sortie["card"];
const BLOCK = {
  name: "Test block",
  elevation_ft: 10,
  block_top_ft: 6500,
  fields: [],
} as unknown as Sortie["block"];

const PLAIN = { assumed: "", blocks: null };

export function sortie(over: Partial<Sortie> = {}): Sortie {
  const figures = [planned("f1"), planned("f2", { start_ft: 5500 })];
  const answers = planAnswer(
    figures.map((f) =>
      figureAnswer(f.id, f.start_ft, {
        faults: [
          { ...PLAIN, key: "soft_pull", words: "Timid pull", does: "Height runs away." },
          { ...PLAIN, key: "rudder_late", words: "Rudder half or late", does: "Every second counts." },
        ],
      }),
    ),
  );
  return {
    id: 7,
    lesson: "spins_both_ways",
    lesson_name: "Spins, both ways",
    lesson_purpose: "",
    student: "Ana",
    student_id: 1,
    instructor: "Bo",
    aircraft: "QX-TST",
    aircraft_name: "Selkie 160",
    place: "Test block",
    planned_for: "2026-05-14T10:00:00Z",
    stage: "planned",
    figures: 2,
    version: 3,
    speed_unit: "kt",
    student_stage: "practised",
    changed_by: "Bo",
    changed_at: "2026-05-14T09:00:00Z",
    may: mayAt(over.stage ?? "planned"),
    reached: STAGES.slice(1, STAGES.indexOf(over.stage ?? "planned") + 1),
    answer: { ...answers, titles: { f1: "Spin f1", f2: "Spin f2" } },
    brief_items: [],
    attempts: [],
    entries: [],
    attempt_titles: {},
    doubts: {},
    accounts: {},
    missing: {},
    card: CARD,
    block: BLOCK,
    stage_changes: [],
    rebooked: [],
    cancelled: null,
    instructor_id: 2,
    newer: {},
    trouble: null,
    earlier_faults: {},
    brief_pages: [],
    read: null,
    questions: [],
    clashes: [],
    signature: null,
    corrections: [],
    ...draft(figures),
    ...over,
  };
}

/** A figure looked at closely: a short dive and pull-out. */
export function closerLook(id: string, over: Partial<CloserLook> = {}): CloserLook {
  const gate = {
    lowest: answer("Lowest", 90, "90 kt"),
    best: answer("Best", 100, "100 kt"),
    highest: answer("Highest", 120, "120 kt"),
    pull_g: 2.5,
    would_help: "",
  };
  return {
    id,
    gate,
    side: {
      seconds: [0, 2, 4],
      along_ft: [0, 300, 700],
      across_ft: [0, 0, 0],
      height_ft: [5000, 4600, 4400],
      path_deg: [-30, -40, 0],
      pitch_deg: [-20, -30, 3],
      bank_deg: [0, 10, 0],
      heading_deg: [0, 0, 0],
      ias: [90, 110, 118],
      g: [1, 2.5, 1],
      moments: [
        { words: "Gate", at: 0 },
        { words: "Pull-out", at: 1 },
        { words: "End", at: 2 },
      ],
    },
    gate_map: {
      speeds: [80, 100, 120],
      pulls: [2, 3],
      verdict: [
        ["too slow", "too hard"],
        ["fine", "fine"],
        ["fine", "too fast"],
      ],
      lost_ft: [
        [null, null],
        [380, 300],
        [420, 350],
      ],
      here_speed: 100,
      here_pull: 2,
    },
    what_ifs: [
      {
        key: "later",
        words: "First input a second later",
        lost: answer("then", 700),
        more: answer("More", 200, "200 ft"),
        said: "+200 ft",
        lowest: answer("Lowest then", 2900, "2,900 ft"),
        highest: answer("Highest", 5000),
        fastest: answer("Fastest", 130),
        broken: "100 ft below the floor",
      },
    ],
    schools: [],
    faults: [
      {
        key: "late",
        words: "Late to act",
        does: "Grows.",
        more: answer("Late costs", 200, "200 ft"),
        said: "+200 ft",
        assumed: "first input a second later",
      },
      {
        key: "no_lookout",
        words: "No lookout",
        does: "Nobody knows.",
        more: null,
        said: "not computed",
        assumed: "",
      },
    ],
    ...over,
  };
}
