/** The numbers of an aircraft card by group: path, words, unit ("speed" is the card's own). The reader and the editor show the same. */
export type Field = [path: string, words: string, unit: string];
export type Group = [title: string, fields: Field[]];

export const GROUPS: Group[] = [
  [
    "Speeds, IAS",
    [
      ["speeds.reference_lb", "At this weight", "lb"],
      ["speeds.stall_ias", "Stall, clean", "speed"],
      ["speeds.stall_flap_ias", "Stall, flap", "speed"],
      ["speeds.glide_ias", "Best glide", "speed"],
      ["speeds.glide_ratio", "Glide ratio", ""],
      ["speeds.climb_ias", "Best climb", "speed"],
      ["speeds.climb_fpm", "Climb", "fpm"],
      ["speeds.level_ias", "Fastest level", "speed"],
      ["speeds.manoeuvring_ias", "Va", "speed"],
      ["speeds.normal_most_ias", "Vno", "speed"],
      ["speeds.never_exceed_ias", "Vne", "speed"],
      ["speeds.flap_most_ias", "Vfe", "speed"],
    ],
  ],
  [
    "Limits and roll",
    [
      ["limits.most_g", "Most g", "g"],
      ["limits.least_g", "Least g", "g"],
      ["limits.rolling_g", "While rolling", "g"],
      ["limits.flap_g", "With flap", "g"],
      ["roll.left_deg_s", "Roll, left", "°/s"],
      ["roll.right_deg_s", "Roll, right", "°/s"],
      ["roll.at_ias", "Roll timed at", "speed"],
    ],
  ],
  [
    "Weight and balance",
    [
      ["balance.empty_lb", "Empty", "lb"],
      ["balance.empty_arm_in", "Empty arm", "in"],
      ["balance.aerobatic_most_lb", "Most, aerobatics", "lb"],
      ["balance.most_lb", "Most", "lb"],
      ["balance.aerobatic_forward_in", "Forward limit", "in"],
      ["balance.aerobatic_aft_in", "Aft limit", "in"],
      ["balance.aerobatic_burn_usgal_h", "Burn, aerobatics", "US gal/h"],
    ],
  ],
];

export const SPIN: Group = [
  "Spin",
  [
    ["spin.one_turn_ft", "One turn with recovery", "ft"],
    ["spin.further_turn_ft", "Each further turn", "ft"],
    ["spin.turn_s", "Seconds a turn", "s"],
    ["spin.recovery_turns", "Turns to recover", ""],
    ["spin.path_down_deg", "Path when it stops", "° down"],
    ["spin.left_factor", "Left against right", "×"],
    ["spin.most_lb", "Most weight for spins", "lb"],
    ["spin.at_ft", "Figures are for", "ft"],
  ],
];

/** A spin section to begin from: every number to be copied from the manual. */
export const EMPTY_SPIN = {
  approved: true,
  ref: "",
  recovery: [],
  variants: {},
  ...Object.fromEntries(
    SPIN[1].map(([path]) => [
      path.replace("spin.", ""),
      {
        value: path.endsWith("path_down_deg") ? 75 : path.endsWith("left_factor") ? 1 : 1,
        source: "flight manual",
        ref: "",
      },
    ]),
  ),
};

export const STANDARDS: Field[] = [
  ["regulation_floor_ft", "Regulation floor, above ground", "ft"],
  ["school_floor_ft", "School floor, above ground", "ft"],
  ["stage_extra_ft.first flights", "Added for 'first flights'", "ft"],
  ["stage_extra_ft.practised", "Added for 'practised'", "ft"],
  ["stage_extra_ft.ready to fly it alone", "Added for 'ready to fly it alone'", "ft"],
  ["allowance_ft", "Altimeter and reading allowance", "ft"],
  ["decide_s", "Seconds to decide to leave", "s"],
  ["egress_s", "Seconds to get out", "s"],
  ["canopy_ft", "Canopy", "ft"],
  ["feel_least", "Least number to go on with, 0 to 10", ""],
  ["reserve_min", "Fuel kept", "min"],
  ["visibility_sm", "Least visibility", "SM"],
  ["cloud_above_ft", "Kept below cloud", "ft"],
  ["daylight_min", "Kept before sunset", "min"],
  ["report_min", "Oldest weather report", "min"],
  ["parachute_days", "Parachute repack", "days"],
  ["speed_margin", "Kept below Vne", "kt or mph"],
];
