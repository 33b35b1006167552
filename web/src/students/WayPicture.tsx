import { Box, ButtonBase, useMediaQuery } from "@mui/material";
import type { Student, Task } from "../api/types";
import { day } from "../frame/dates";
import { useSize } from "../frame/useSize";
import { narrow, tokens, TOUCH, unseen } from "../theme";
import { flightsOf, halfOf, labelled, placesOf, rowHeight, rowsOf, type Row } from "./threads";

const styles = {
  whole: { flex: { xs: "none", md: 1 }, minHeight: 0, display: "flex", flexDirection: "column" },
  key: { ...narrow, fontSize: 12.5, color: tokens.slate, display: "flex", gap: 2, flexWrap: "wrap", mb: 0.5 },
  title: {
    ...narrow,
    position: "absolute",
    left: 0,
    width: 178,
    justifyContent: "flex-end",
    textAlign: "right",
    lineHeight: 1.05,
    fontSize: 13,
    fontWeight: 560,
    color: tokens.ink,
    "&:focus-visible": { outline: `2px solid ${tokens.plan}` },
  },
  scroll: {
    position: "relative",
    flex: { xs: "none", md: 1 },
    minHeight: 0,
    overflowX: "auto",
    overflowY: { xs: "hidden", md: "auto" },
  },
} as const;

const LEFT = 190,
  RIGHT = 128,
  TOP = 24,
  NARROWEST = 640,
  FINGER = 44,
  FELT = 34,
  MARK = 5.6;
export const STATE_INK = {
  "not begun": tokens.slate,
  begun: tokens.slate,
  guided: tokens.mindInk,
  sound: tokens.plan,
  ready: tokens.best,
} as const;

interface Props {
  tasks: Task[];
  felt: Student["felt"];
  today: string;
  chosen: string;
  onChoose: (task: string) => void;
}

/** The way through a course: a thread for each task, as thick as what it cost beyond the brief, with how it was flown in
 * each flight, and where it stands now. */
export function WayPicture({ tasks, felt, today, chosen, onChoose }: Props) {
  const { frame, size } = useSize<HTMLDivElement>({ width: 820, height: 520 });
  // Narrower it is moved sideways: names and states keep their room.
  const width = Math.max(NARROWEST, size.width);
  const fingers = useMediaQuery(TOUCH.replace("@media ", ""));
  const row = fingers ? FINGER : rowHeight(tasks, size.height - TOP - FELT - 8);
  const flights = flightsOf(tasks);
  const { of } = placesOf(flights, today);
  const { rows, headings, height } = rowsOf(tasks, row);
  const end = width - RIGHT;
  const x = (id: number) => LEFT + (of.get(id) ?? 0) * (end - LEFT - 10) + 6;
  return (
    <Box sx={styles.whole}>
      <Box sx={styles.key}>
        <span>thread: height beyond the brief, thinner is better</span>
        <KeyMark how="shown" words="shown" />
        <KeyMark how="with talk" words="with talk" />
        <KeyMark how="alone" words="alone" />
        <span>dots: not flown since</span>
      </Box>
      <Box ref={frame} sx={styles.scroll}>
        <svg width={width} height={TOP + height + FELT} style={{ display: "block", ...narrow }} aria-hidden>
          {flights.map((f) => (
            <path
              key={f.id}
              d={`M${x(f.id)} ${TOP}V${TOP + height}`}
              stroke={tokens.hairline}
              strokeWidth="0.6"
            />
          ))}
          {labelled(flights, x, 46).map((f) => (
            <text key={f.id} x={x(f.id)} y={14} textAnchor="middle" fontSize="12.5" fill={tokens.slate}>
              {day(f.day).replace(/^\w+ /, "")}
            </text>
          ))}
          {headings.map((h) => (
            <text key={h.words} x={8} y={TOP + h.y} fontSize="14.5" fontWeight="680" fill={tokens.ink}>
              {h.words}
            </text>
          ))}
          {rows.map((one) => (
            <g
              key={one.task.task}
              onClick={() => onChoose(one.task.task)}
              style={{ cursor: "pointer" }}
              transform={`translate(0 ${TOP + one.y})`}
            >
              <rect
                x={0}
                y={-row / 2}
                width={width}
                height={row}
                fill={chosen === one.task.task ? tokens.planPale : "transparent"}
                opacity={0.45}
              />
              <Thread row={one} x={x} end={end} />
            </g>
          ))}
          <Felt felt={felt} x={x} y={TOP + height + 20} known={of} />
        </svg>
        {rows.map((one) => (
          <ButtonBase
            key={one.task.task}
            aria-pressed={chosen === one.task.task}
            onClick={() => onChoose(one.task.task)}
            sx={{ ...styles.title, top: TOP + one.y - row / 2, height: row }}
          >
            {one.task.title}
          </ButtonBase>
        ))}
      </Box>
      <WayTable tasks={tasks} />
    </Box>
  );
}

const LOW = 4;

/** How the student felt at the end of each flight, under its column; a low number is told by its mark. */
function Felt({
  felt,
  x,
  y,
  known,
}: {
  felt: Student["felt"];
  x: (id: number) => number;
  y: number;
  known: Map<number, number>;
}) {
  return (
    <>
      <text x={8} y={y} fontSize="14.5" fontWeight="680" fill={tokens.ink}>
        Felt at the end, of 10
      </text>
      {felt
        .filter((f) => known.has(f.flight))
        .map((f) => (
          <text
            key={f.flight}
            x={x(f.flight)}
            y={y}
            textAnchor="middle"
            fontSize="13"
            fontWeight={f.feel < LOW ? 760 : 500}
            fill={f.feel < LOW ? tokens.stop : tokens.slate}
          >
            {f.feel}
            {f.feel < LOW ? " ▾" : ""}
          </text>
        ))}
    </>
  );
}

function Thread({ row: { task }, x, end }: { row: Row; x: (id: number) => number; end: number }) {
  const marks = task.marks;
  const first = marks[0],
    last = marks.at(-1);
  const above = marks.map((m) => `${x(m.flight)} ${-halfOf(m.beyond_ft)}`);
  const below = marks.map((m) => `${x(m.flight)} ${halfOf(m.beyond_ft)}`).reverse();
  return (
    <>
      {first && last && (
        <>
          <path
            d={`M${x(last.flight)} 0H${end - 4}`}
            stroke={tokens.flown}
            strokeWidth="1.5"
            strokeDasharray="1.5 5"
            strokeLinecap="round"
          />
          {marks.length > 1 && (
            <path d={`M${[...above, ...below].join("L")}Z`} fill={tokens.flown} opacity={0.42} />
          )}
          {marks.map((m) => (
            <MarkOf key={m.flight} how={m.how} x={x(m.flight)} />
          ))}
        </>
      )}
      <text x={end + 4} y={4.5} fontSize="13" fontWeight="680" fill={STATE_INK[task.state]}>
        {task.state}
        {task.met ? " ✓" : ""}
        {task.state !== task.reached ? ", lapsed" : ""}
      </text>
    </>
  );
}

/** Shown is a ring, with talk half full, alone full. */
function MarkOf({ how, x, y = 0 }: { how: string; x: number; y?: number }) {
  return (
    <g transform={`translate(${x} ${y})`}>
      <circle
        r={MARK}
        fill={how === "alone" ? tokens.flown : tokens.sheet}
        stroke={tokens.flown}
        strokeWidth="1.8"
      />
      {how === "with talk" && <path d={`M0 ${-MARK}A${MARK} ${MARK} 0 0 1 0 ${MARK}Z`} fill={tokens.flown} />}
    </g>
  );
}

function KeyMark({ how, words }: { how: string; words: string }) {
  return (
    <span>
      <svg width="14" height="13" aria-hidden style={{ verticalAlign: "-2px", marginRight: 4 }}>
        <MarkOf how={how} x={7} y={6.5} />
      </svg>
      {words}
    </span>
  );
}

/** The same in text. */
function WayTable({ tasks }: { tasks: Task[] }) {
  return (
    <Box component="table" sx={unseen}>
      <caption>The way through the course</caption>
      <thead>
        <tr>
          <th>Task</th>
          <th>State</th>
          <th>Needed</th>
          <th>Flights</th>
        </tr>
      </thead>
      <tbody>
        {tasks.map((t) => (
          <tr key={t.task}>
            <th>{t.title}</th>
            <td>
              {t.state}
              {t.state !== t.reached && `, lapsed from ${t.reached}`}
            </td>
            <td>{t.needed}</td>
            <td>
              {t.marks
                .map(
                  (m) =>
                    `${day(m.day)} ${m.how}${m.shown ? `, ${m.shown}` : ""}${m.beyond_ft === null ? "" : `, ${Math.round(m.beyond_ft / 10) * 10} ft beyond`}`,
                )
                .join("; ")}
            </td>
          </tr>
        ))}
      </tbody>
    </Box>
  );
}
