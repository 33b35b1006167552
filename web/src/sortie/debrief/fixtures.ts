/** What a recording says, for tests. */
import type { Recorded } from "../../api/types";

type Found = Recorded["flight"]["figures"][number];

const measured: Found["measured"] = {
  begins_s: 400,
  ends_s: 412,
  lowest_s: 410,
  entry_ias: 55,
  start_ft: 5003,
  recover_ft: null,
  lowest_ft: 4317,
  level_ft: 4330,
  highest_ft: 5003,
  phases: [
    { name: "Until the rotation slows", lost_ft: 400, seconds: 6 },
    { name: "To the pull", lost_ft: 286, seconds: 4 },
  ],
  turns: 1.1,
  turn_s: 2.1,
  most_g: 2.6,
  least_g: 0.4,
  rolling_g: null,
  fastest_ias: 112,
  heading_off_deg: 3,
  bank_at_pull_deg: 2,
  lift_share: 0.7,
  inputs: [],
  shape: null,
  meant: null,
};

export function found(attempt: string, over: Partial<Found> = {}): Found {
  return {
    attempt,
    key: "spin",
    title: "One-turn spin, left",
    side: "left",
    planned: attempt,
    place: "planned",
    sure: 0.99,
    could_be: [],
    measured,
    became: null,
    taps: [],
    ...over,
  };
}

export function recorded(id: number, over: Partial<Recorded> = {}, figures = [found("f1")]): Recorded {
  return {
    id,
    name: `flight-${id}.csv`,
    digest: "ab".repeat(32),
    doubts: [],
    outdated: false,
    size: 1000,
    set_aside: false,
    by: "Bo",
    at: "2026-05-14T11:00:00Z",
    flight: {
      version: 1,
      form: "table",
      flights: 1,
      rows: 7000,
      began: null,
      aircraft: "",
      columns: null,
      problems: [
        {
          kind: "no number",
          line: 9,
          header: "ias_kt",
          what: "'x' is not a number",
          do: "The field is left out.",
        },
      ],
      counts: { "no number": 2 },
      cleaned: [
        {
          key: "g bias",
          words: "g meter reads +0.04 in level flight: taken off",
          done: true,
          optional: true,
        },
      ],
      missing: ["Order of hands and feet: no rudder"],
      figures,
      flight: 1,
      without: [],
      marks: [],
      taps: [],
    },
    ...over,
  };
}
