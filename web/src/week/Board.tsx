import { Box } from "@mui/material";
import { DateTime } from "luxon";
import { useRef } from "react";
import type { BookedSortie, Week } from "../api/types";
import { day, time } from "../frame/dates";
import { narrow, tokens } from "../theme";
import { VerdictMark } from "../verdict/VerdictMark";
import { DAYS, dayOf, hoursOf, lightOn, longer, shifted, spotOf, type By, type Spot } from "./spot";
import type { Moving } from "./useMoving";

/** Pixels from which on a press is a movement. */
const MOVES = 4;
/** Of a booking, from which on there is room for two names. */
const LONG_MIN = 75;
/** Of a lane, at least; where a finger moves the bookings it is one that a finger can hold. */
const LANE = 27,
  TOUCHED = 47;

const styles = {
  board: {
    display: "grid",
    gridTemplateColumns: "76px 84px minmax(0, 1fr)",
    gridTemplateRows: "20px",
    gridAutoRows: `minmax(${LANE}px, 1fr)`,
    "@media (pointer: coarse)": { gridAutoRows: `${TOUCHED}px` },
    bgcolor: tokens.sheet,
    border: `1px solid ${tokens.hairline}`,
    overflow: "auto",
    touchAction: "pan-y",
    userSelect: "none",
    minHeight: 0,
  },
  hours: {
    position: "sticky",
    top: 0,
    zIndex: 5,
    bgcolor: tokens.sheet,
    borderBottom: `1px solid ${tokens.hairline}`,
  },
  hour: {
    ...narrow,
    position: "absolute",
    fontSize: 12.5,
    color: tokens.slate,
    transform: "translateX(-50%)",
  },
  day: {
    ...narrow,
    fontWeight: 700,
    fontSize: 14.5,
    px: 1,
    pt: 0.4,
    lineHeight: 1.2,
    borderBottom: `1px solid ${tokens.slate}`,
  },
  sun: { fontWeight: 450, fontSize: 12 },
  // With whom, where there is room for it.
  with: { color: tokens.ink, "@media (max-width: 1199px)": { display: "none" } },
  lane: {
    ...narrow,
    fontSize: 13,
    px: 0.7,
    display: "flex",
    alignItems: "center",
    overflow: "hidden",
    whiteSpace: "nowrap",
    borderBottom: `1px solid ${tokens.hairline}`,
  },
  track: { position: "relative", borderBottom: `1px solid ${tokens.hairline}` },
  lastOfDay: { borderBottomColor: tokens.slate },
  dark: { position: "absolute", top: 0, bottom: 0, bgcolor: tokens.hardPale },
  line: { position: "absolute", top: 0, bottom: 0, width: "1px", bgcolor: tokens.hairline },
  kept: { position: "absolute", top: 0, bottom: 0, borderLeft: `1.5px dotted ${tokens.mind}` },
  now: { position: "absolute", top: 0, bottom: 0, width: "2px", bgcolor: tokens.stop, zIndex: 3 },
  away: {
    ...narrow,
    position: "absolute",
    top: "2px",
    bottom: "2px",
    fontSize: 12.5,
    px: 0.6,
    display: "flex",
    alignItems: "center",
    overflow: "hidden",
    whiteSpace: "nowrap",
    color: tokens.ink,
    border: `1px solid ${tokens.slate}`,
    background: `repeating-linear-gradient(135deg, ${tokens.earth} 0 6px, ${tokens.sheet} 6px 9px)`,
    "& span": { bgcolor: tokens.sheet, px: 0.4 },
  },
  bar: {
    ...narrow,
    position: "absolute",
    top: "1px",
    bottom: "1px",
    px: 0.6,
    display: "flex",
    alignItems: "center",
    gap: 0.5,
    fontSize: 13,
    fontFamily: "inherit",
    color: tokens.ink,
    overflow: "hidden",
    whiteSpace: "nowrap",
    border: `2px solid ${tokens.plan}`,
    bgcolor: tokens.sheet,
    zIndex: 2,
    cursor: "pointer",
    "&:focus-visible": { outline: `3px solid ${tokens.ink}`, outlineOffset: 1, zIndex: 4 },
  },
  ghost: { zIndex: 4, borderStyle: "solid", bgcolor: tokens.planPale, opacity: 0.92, pointerEvents: "none" },
  end: { position: "absolute", right: 0, top: 0, bottom: 0, width: 9, cursor: "ew-resize" },
} as const;

/** Dashed while it is planned, full when it is briefed, in the colour of what was flown from then on. */
const STAGES = {
  planned: { borderStyle: "dashed" },
  briefed: { bgcolor: tokens.planPale },
  flown: { borderColor: tokens.flown, bgcolor: tokens.flownPale },
  debriefed: { borderColor: tokens.flown, bgcolor: tokens.flownPale },
  signed: { borderColor: tokens.flown, bgcolor: tokens.flownPale },
} as const;
const CANCELLED = { borderColor: tokens.slate, borderStyle: "dotted", color: tokens.slate, opacity: 0.8 };

interface Props {
  week: Week;
  by: By;
  moving: Moving;
  /** What a new sortie would take, where the board is free. */ free: Spot | null;
  onFree: (spot: Spot | null) => void;
  /** Whether a new one can be planned here. */ plans: boolean;
}
interface Grip {
  x: number;
  y: number;
  moved: boolean;
  length: boolean;
  spot: Spot;
  /** From the begin of the bar to the pointer, in minutes. */ within: number;
}

/** The days one below the other, time to the right, a lane for each aircraft or instructor. */
export function Board({ week, by, moving, free, onFree, plans }: Props) {
  const board = useRef<HTMLDivElement>(null);
  const grip = useRef<Grip | null>(null);
  /** A movement ends with a click on what lies under it, which is none. */
  const moved = useRef(false);
  const [first, last] = hoursOf(week);
  const lanes = by === "aircraft" ? week.aircraft : week.instructors;
  const left = (minutes: number) => `${(100 * (minutes / 60 - first)) / (last - first)}%`;
  const wide = (minutes: number) => `${(100 * minutes) / 60 / (last - first)}%`;

  /** Day, lane and minute under the pointer; the nearest lane where it is beside all of them. */
  const under = (x: number, y: number): { day: number; lane: number; from: number } | null => {
    const tracks = [...(board.current?.querySelectorAll<HTMLElement>("[data-track]") ?? [])];
    const far = (r: DOMRect) => Math.max(r.top - y, y - r.bottom, 0);
    const nearest = tracks
      .map((track) => ({ track, r: track.getBoundingClientRect() }))
      .sort((a, b) => far(a.r) - far(b.r))[0];
    if (!nearest) return null;
    const { track, r } = nearest;
    return {
      day: Number(track.dataset.day),
      lane: Number(track.dataset.lane),
      from: 60 * (first + ((last - first) * (x - r.left)) / r.width),
    };
  };
  const take = (e: React.PointerEvent, sortie: BookedSortie) => {
    onFree(null);
    moving.choose(sortie.id);
    const at = under(e.clientX, e.clientY);
    if (!sortie.may_book || sortie.cancelled !== null || !at || e.button !== 0) return;
    const spot = spotOf(week, sortie);
    const length = (e.target as HTMLElement).dataset.end !== undefined;
    board.current?.setPointerCapture(e.pointerId);
    grip.current = { x: e.clientX, y: e.clientY, moved: false, length, spot, within: at.from - spot.from };
  };
  const move = (e: React.PointerEvent) => {
    const held = grip.current;
    if (!held) return;
    if (!held.moved && Math.hypot(e.clientX - held.x, e.clientY - held.y) < MOVES) return;
    held.moved = true;
    const at = under(e.clientX, e.clientY);
    if (!at) return;
    if (held.length) return moving.setGhost(longer(week, held.spot, at.from - held.spot.from));
    moving.setGhost(shifted(week, { ...held.spot, day: at.day, [by]: at.lane }, at.from - held.within));
  };
  const release = () => {
    const held = grip.current;
    grip.current = null;
    moved.current = held?.moved ?? false;
    if (!held?.moved || !moving.ghost) return;
    // What was briefed is asked about first: it has to be briefed again.
    if (moving.sortie?.stage === "planned") void moving.store(moving.ghost);
  };
  const keys = (e: React.KeyboardEvent, sortie: BookedSortie) => {
    if (e.key === "Escape" && moving.ghost) {
      e.preventDefault();
      return moving.drop();
    }
    if (e.key === "Enter" && moving.ghost) {
      e.preventDefault();
      return void moving.store(moving.ghost);
    }
    if (!sortie.may_book || sortie.cancelled !== null || !e.key.startsWith("Arrow")) return;
    e.preventDefault();
    const spot = (moving.sortie?.id === sortie.id && moving.ghost) || spotOf(week, sortie);
    if (moving.sortie?.id !== sortie.id) moving.choose(sortie.id);
    moving.setGhost(
      stepped(
        week,
        spot,
        e.key,
        e.shiftKey,
        by,
        lanes.map((l) => l.id),
      ),
    );
  };
  const clickFree = (e: React.MouseEvent) => {
    const at = under(e.clientX, e.clientY);
    if (!at || moved.current) return void (moved.current = false);
    moving.choose(null);
    const aircraft = by === "aircraft" ? at.lane : 0;
    const instructor = by === "instructor" ? at.lane : 0;
    const spot = { day: at.day, from: 0, minutes: week.usual_min, aircraft, instructor };
    onFree(shifted(week, spot, Math.floor(at.from / week.step_min) * week.step_min));
  };
  const hours = Array.from({ length: last - first + 1 }, (_, i) => first + i);
  return (
    <Box
      ref={board}
      sx={styles.board}
      role="group"
      aria-label={`Bookings by ${by}`}
      onPointerMove={move}
      onPointerUp={release}
      onPointerCancel={() => {
        grip.current = null;
        moving.drop();
      }}
    >
      <Box sx={{ ...styles.hours, gridColumn: "1 / 3" }} />
      <Box sx={styles.hours} aria-hidden>
        {hours.slice(1, -1).map((h) => (
          <Box key={h} sx={styles.hour} style={{ left: left(60 * h) }}>
            {h}
          </Box>
        ))}
      </Box>
      {Array.from({ length: DAYS }, (_, n) => {
        const light = lightOn(week, n);
        const on = dayOf(week, n);
        const today = on.hasSame(DateTime.fromISO(week.now), "day");
        return lanes.map((lane, i) => {
          const lastOne = i === lanes.length - 1;
          const edge = lastOne ? styles.lastOfDay : {};
          return (
            <Box key={`${n} ${lane.id}`} sx={{ display: "contents" }}>
              {i === 0 && (
                <Box
                  sx={{ ...styles.day, ...(today ? { bgcolor: tokens.planPale } : {}) }}
                  style={{ gridRow: `span ${lanes.length}` }}
                >
                  {on.toFormat("ccc d")}
                  {light && (
                    <Box sx={styles.sun}>
                      Light {light.rises.toFormat("HH:mm")} to {light.sets.toFormat("HH:mm")}
                    </Box>
                  )}
                </Box>
              )}
              <Box sx={{ ...styles.lane, ...edge }} title={lane.more}>
                {by === "aircraft" ? lane.name : lane.name.split(" ")[0]}
              </Box>
              <Box
                sx={{ ...styles.track, ...edge }}
                data-track
                data-day={n}
                data-lane={lane.id}
                onClick={plans ? clickFree : undefined}
              >
                {light && <Dark light={light} left={left} kept={week.kept_min} />}
                {hours.slice(1, -1).map((h) => (
                  <Box key={h} sx={styles.line} style={{ left: left(60 * h) }} />
                ))}
                {today && <Box sx={styles.now} style={{ left: left(minutesOf(week.now)) }} title="Now" />}
                {awayIn(week, n, by, lane.id).map((a) => (
                  <Box
                    key={a.key}
                    sx={styles.away}
                    style={{
                      left: left(Math.max(a.from, 60 * first)),
                      right: `calc(100% - ${left(Math.min(a.to, 60 * last))})`,
                    }}
                    title={a.words}
                  >
                    <span>{a.words}</span>
                  </Box>
                ))}
                {week.sorties
                  .map((s) => ({ s, spot: spotOf(week, s) }))
                  .filter(({ spot }) => spot.day === n && spot[by] === lane.id)
                  .map(({ s, spot }) => (
                    <Bar
                      key={s.id}
                      sortie={s}
                      by={by}
                      chosen={moving.sortie?.id === s.id}
                      long={spot.minutes >= LONG_MIN}
                      style={{ left: left(spot.from), width: wide(spot.minutes) }}
                      onPointerDown={(e) => take(e, s)}
                      onFocus={() => moving.sortie?.id !== s.id && moving.choose(s.id)}
                      onKeyDown={(e) => keys(e, s)}
                    />
                  ))}
                {[moving.ghost, free].map(
                  (spot, k) =>
                    spot?.day === n &&
                    spot[by] === lane.id && (
                      <Box
                        key={k}
                        data-ghost
                        sx={{ ...styles.bar, ...styles.ghost }}
                        style={{ left: left(spot.from), width: wide(spot.minutes) }}
                      >
                        {time(on.plus({ minutes: spot.from }).toISO() ?? "")}{" "}
                        {k === 0 ? moving.sortie?.student : "free"}
                      </Box>
                    ),
                )}
              </Box>
            </Box>
          );
        });
      })}
    </Box>
  );
}

function Dark(props: {
  light: { rises: DateTime; sets: DateTime };
  left: (minutes: number) => string;
  kept: number;
}) {
  const { light, left, kept } = props;
  return (
    <>
      <Box sx={styles.dark} style={{ left: 0, width: left(minutesOf(light.rises.toISO() ?? "")) }} />
      <Box sx={styles.dark} style={{ left: left(minutesOf(light.sets.toISO() ?? "")), right: 0 }} />
      <Box
        sx={styles.kept}
        style={{ left: left(minutesOf(light.sets.minus({ minutes: kept }).toISO() ?? "")) }}
      />
    </>
  );
}

interface BarProps {
  sortie: BookedSortie;
  by: By;
  chosen: boolean;
  /** Whether there is room for more than the name. */ long: boolean;
  style: React.CSSProperties;
  onPointerDown: (e: React.PointerEvent) => void;
  onFocus: () => void;
  onKeyDown: (e: React.KeyboardEvent) => void;
}

function Bar({ sortie: s, by, chosen, long, style, ...on }: BarProps) {
  const with_ = by === "aircraft" ? (s.instructor.split(" ")[0] ?? "") : s.aircraft;
  const state = s.cancelled === null ? s.stage : "cancelled";
  const short = shortName(s.student);
  const words = `${short} ${with_}, ${day(s.begins)} ${time(s.begins)} to ${time(s.ends)}, ${s.student}, ${s.lesson_name}, ${s.aircraft}, ${s.instructor}, ${state}`;
  return (
    <Box
      component="button"
      type="button"
      aria-label={words}
      aria-pressed={chosen}
      title={words}
      data-booking={s.id}
      sx={{
        ...styles.bar,
        ...(s.cancelled === null ? STAGES[s.stage] : CANCELLED),
        ...(chosen ? { boxShadow: `0 0 0 2px ${tokens.ink}` } : {}),
        ...(s.may_book && s.cancelled === null ? { cursor: "grab", touchAction: "none" } : {}),
      }}
      style={style}
      onClick={(e: React.MouseEvent) => e.stopPropagation()}
      {...on}
    >
      {s.clashes.length > 0 && <VerdictMark verdict="stop" size={13} />}
      <b>{short}</b>
      {long && (
        <Box component="span" sx={styles.with}>
          {" "}
          {with_}
        </Box>
      )}
      {s.may_book && s.cancelled === null && <Box data-end sx={styles.end} />}
    </Box>
  );
}

/** "Petra L." */
function shortName(name: string): string {
  const [given, ...rest] = name.split(" ");
  const last = rest.at(-1);
  return last ? `${given} ${last.charAt(0)}.` : name;
}

function minutesOf(iso: string): number {
  const at = DateTime.fromISO(iso);
  return 60 * at.hour + at.minute;
}

/** When the one of this lane is not to be had on this day, in minutes. */
function awayIn(week: Week, n: number, by: By, lane: number) {
  const begins = dayOf(week, n);
  const ends = begins.plus({ days: 1 });
  return week.taken
    .filter((t) => (by === "aircraft" ? t.aircraft_id : t.person_id) === lane)
    .flatMap((t) => {
      const [from, to] = [DateTime.fromISO(t.begins), DateTime.fromISO(t.ends)];
      if (from >= ends || to <= begins) return [];
      return [
        {
          key: t.id,
          words: t.words,
          from: from <= begins ? 0 : minutesOf(t.begins),
          to: to >= ends ? 24 * 60 : minutesOf(t.ends),
        },
      ];
    });
}

/** One step of the arrow keys: along by the school's step, with Shift in length; up and down by a lane, over the edge
 * of a day into the next. */
function stepped(week: Week, spot: Spot, key: string, length: boolean, by: By, lanes: number[]): Spot {
  const along = key === "ArrowRight" ? week.step_min : key === "ArrowLeft" ? -week.step_min : 0;
  if (along !== 0 && length) return longer(week, spot, spot.minutes + along);
  if (along !== 0) return shifted(week, spot, spot.from + along);
  const place = spot.day * lanes.length + lanes.indexOf(spot[by]) + (key === "ArrowDown" ? 1 : -1);
  const kept = Math.max(0, Math.min(DAYS * lanes.length - 1, place));
  return { ...spot, day: Math.floor(kept / lanes.length), [by]: lanes[kept % lanes.length] ?? spot[by] };
}
