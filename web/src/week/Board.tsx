import { Box } from "@mui/material";
import { DateTime } from "luxon";
import { useRef } from "react";
import type { BookedSortie, Week } from "../api/types";
import { time } from "../frame/dates";
import { tokens } from "../theme";
import { Bar } from "./Bar";
import { styles } from "./boardStyles";
import {
  awayIn,
  dayOf,
  DAYS,
  hoursOf,
  lightOn,
  longer,
  minutesOf,
  shifted,
  spotOf,
  stepped,
  type By,
  type Spot,
} from "./spot";
import type { Moving } from "./useMoving";

/** Pixels from which on a press is a movement. */
const MOVES = 4;
/** Of a booking, from which on there is room for two names. */
const LONG_MIN = 75;

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
    moving.land(moving.ghost);
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
                {awayIn(week, n, by, lane.id, [first, last]).map((a) => (
                  <Box
                    key={a.key}
                    sx={styles.away}
                    style={{
                      left: left(a.from),
                      width: wide(a.to - a.from),
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
