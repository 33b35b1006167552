import { Box } from "@mui/material";
import { scaleLinear } from "d3-scale";
import { useEffect, useRef, useState } from "react";
import type { PastAttempt, Student } from "../api/types";
import { day } from "../frame/dates";
import { narrow, tokens, unseen } from "../theme";

const styles = {
  whole: { flex: 1, minHeight: 320, display: "flex", flexDirection: "column" },
  caption: { ...narrow, fontSize: 12.5, color: tokens.slate },
  chart: { flex: 1, minHeight: 280, position: "relative" },
} as const;

const L = 56,
  R = 10,
  T = 8,
  B = 30,
  NEXT = 122,
  // A day's name is no wider.
  LEAST_GAP = 54;

/** Every attempt hangs from its start: how much height it spent, with what was briefed as dashes, lesson by lesson. */
export function AttemptsOverTime({
  attempts,
  own,
}: {
  attempts: PastAttempt[];
  own?: Student["own"][number];
}) {
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ w: 760, h: 380 });
  useEffect(() => {
    const el = box.current;
    if (!el) return;
    const watch = new ResizeObserver(() => setSize({ w: el.clientWidth, h: el.clientHeight }));
    watch.observe(el);
    return () => watch.disconnect();
  }, []);
  const roomy = size.w >= NEXT * 4;
  const end = size.w - R - (own && roomy ? NEXT : 0);
  const flown = [...new Set(attempts.map((a) => a.sortie_id))];
  const lessons = flown
    .slice(-Math.max(1, Math.floor((end - L) / LEAST_GAP)))
    .map((id) => attempts.filter((a) => a.sortie_id === id));
  const most = Math.max(
    100,
    own?.worst_ft ?? 0,
    own?.population_worst_ft ?? 0,
    ...attempts.map((a) => Math.max(a.lost_ft, a.briefed_ft ?? 0)),
  );
  const y = scaleLinear()
    .domain([0, most * 1.08])
    .range([T, size.h - B]);
  const gap = (end - L) / Math.max(1, lessons.length);
  const bar = Math.max(3, Math.min(26, (gap - 18) / Math.max(1, ...lessons.map((l) => l.length)) - 6));
  return (
    <Box sx={styles.whole}>
      <Box sx={styles.caption}>
        pale up to the brief, <b style={{ color: tokens.flown }}>violet beyond it</b>;{" "}
        <b style={{ color: tokens.plan }}>dashes</b> as briefed, <b style={{ color: tokens.best }}>green</b>{" "}
        the least the aircraft allowed; a dot marks the instructor flying
        {lessons.length < flown.length && `; the latest ${lessons.length} of ${flown.length} lessons`}
      </Box>
      <Box ref={box} sx={styles.chart}>
        <svg
          width={size.w}
          height={size.h}
          style={{ position: "absolute", inset: 0, ...narrow, fontSize: 12.5 }}
          role="img"
          aria-label="Height lost in each attempt, by lesson"
        >
          <rect x={L} y={T} width={size.w - L - R} height={size.h - T - B} fill={tokens.sky} />
          {y.ticks(6).map((ft) => (
            <g key={ft}>
              <path d={`M${L} ${y(ft)}H${size.w - R}`} stroke={tokens.hairline} />
              <text x={L - 8} y={y(ft) + 4} textAnchor="end" fill={tokens.slate}>
                {ft === 0 ? "start" : `−${ft.toLocaleString("en")}`}
              </text>
            </g>
          ))}
          {lessons.map((lesson, i) => {
            const middle = L + gap * (i + 0.5),
              left = middle - (lesson.length * (bar + 6)) / 2;
            return (
              <g key={lesson[0]?.sortie_id}>
                {lesson.map((a, j) => {
                  const x = left + j * (bar + 6) + 3;
                  return (
                    <g key={j}>
                      <title>{`${a.title}, ${a.flown_by}: ${a.lost_ft} ft${a.briefed_ft ? `, briefed ${Math.round(a.briefed_ft / 10) * 10}` : ""}. ${a.faults.join(", ")}`}</title>
                      <rect
                        x={x}
                        y={y(0)}
                        width={bar}
                        height={y(Math.min(a.lost_ft, a.briefed_ft ?? 0)) - y(0)}
                        fill={tokens.planPale}
                      />
                      <rect
                        x={x}
                        y={y(Math.min(a.lost_ft, a.briefed_ft ?? 0))}
                        width={bar}
                        height={y(a.lost_ft) - y(Math.min(a.lost_ft, a.briefed_ft ?? 0))}
                        fill={tokens.flown}
                      />
                      {a.briefed_ft !== null && a.briefed_ft !== undefined && (
                        <path
                          d={`M${x - 4} ${y(a.briefed_ft)}h${bar + 8}`}
                          stroke={tokens.plan}
                          strokeWidth="2.6"
                          strokeDasharray="5 2.5"
                        />
                      )}
                      {a.best_ft !== null && a.best_ft !== undefined && (
                        <path
                          d={`M${x - 3} ${y(a.best_ft)}h${bar + 6}`}
                          stroke={tokens.best}
                          strokeWidth="3"
                        />
                      )}
                      {a.flown_by === "instructor shows" && (
                        <circle cx={x + bar / 2} cy={y(a.lost_ft) + 7} r="3" fill={tokens.flown} />
                      )}
                    </g>
                  );
                })}
                <text x={middle} y={size.h - 10} textAnchor="middle" fill={tokens.slate}>
                  {day(lesson[0]?.flown_on ?? "").replace(/^\w+ /, "")}
                </text>
              </g>
            );
          })}
          {own && roomy && <Next own={own} left={end} y={y} foot={size.h - 10} />}
        </svg>
      </Box>
      <Box component="table" sx={unseen}>
        <caption>Attempts over time</caption>
        <thead>
          <tr>
            <th>Day</th>
            <th>Figure</th>
            <th>Lost</th>
            <th>Briefed</th>
            <th>Least the aircraft allowed</th>
            <th>Faults</th>
          </tr>
        </thead>
        <tbody>
          {attempts.map((a, i) => (
            <tr key={i}>
              <td>{day(a.flown_on)}</td>
              <td>{a.title}</td>
              <td>{a.lost_ft} ft</td>
              <td>{a.briefed_ft ? `${Math.round(a.briefed_ft)} ft` : ""}</td>
              <td>{a.best_ft === null ? "" : `${Math.round(a.best_ft)} ft`}</td>
              <td>{a.faults.join(", ")}</td>
            </tr>
          ))}
        </tbody>
      </Box>
    </Box>
  );
}

/** What the next one is likely to cost, and what it stays within 19 times in 20: this student and the population. */
function Next({
  own,
  left,
  y,
  foot,
}: {
  own: Student["own"][number];
  left: number;
  y: (ft: number) => number;
  foot: number;
}) {
  const spans = [
    { who: "own", likely: own.likely_ft, worst: own.worst_ft, colour: tokens.flown },
    {
      who: "population",
      likely: own.population_likely_ft,
      worst: own.population_worst_ft,
      colour: tokens.plan,
    },
  ];
  return (
    <g>
      <path d={`M${left + 8} ${T}V${foot - 20}`} stroke={tokens.ink} strokeDasharray="2 3" />
      {spans.map(({ who, likely, worst, colour }, i) => {
        const x = left + 32 + i * 52;
        return (
          <g key={who}>
            <title>{`${who}: likely ${likely.toLocaleString("en")} ft, 19 times in 20 within ${worst.toLocaleString("en")} ft`}</title>
            <path d={`M${x} ${y(likely)}V${y(worst)}`} stroke={colour} strokeWidth="3" />
            <path d={`M${x - 8} ${y(likely)}h16M${x - 8} ${y(worst)}h16`} stroke={colour} strokeWidth="2" />
            <text x={x} y={y(likely) - 6} textAnchor="middle" fill={colour}>
              {likely.toLocaleString("en")}
            </text>
            <text x={x} y={y(worst) + 15} textAnchor="middle" fill={colour} fontWeight="700">
              {worst.toLocaleString("en")}
            </text>
            <text x={x} y={foot} textAnchor="middle" fill={tokens.slate}>
              {who}
            </text>
          </g>
        );
      })}
    </g>
  );
}
