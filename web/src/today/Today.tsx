import { useOpens } from "../frame/useOpens";
import { useTitle } from "../frame/useTitle";
import { Box, Button, Paper, Typography } from "@mui/material";
import { useCallback, useState } from "react";
import { Link, useOutletContext } from "react-router";
import { useToday } from "../api/questions";
import type { ComingSortie, Person, SignedSortie, Stage } from "../api/types";
import { serverTime } from "../device/clock";
import { useKept } from "../device/keeping";
import { day, time } from "../frame/dates";
import { Key } from "../frame/Key";
import { useCommands } from "../frame/commands";
import { Empty, Loading, Trouble } from "../frame/states";
import { narrow, tokens } from "../theme";
import { VerdictMark } from "../verdict/VerdictMark";
import { DayHead } from "../week/DayHead";
import { FirstSteps } from "./FirstSteps";
import { Inbox } from "./Inbox";
import { Others } from "./Others";
import { StartSortie } from "./starting";
import { WhoIsDue } from "./WhoIsDue";

const styles = {
  page: {
    p: 2.5,
    display: "grid",
    gridTemplateColumns: { xs: "1fr", lg: "minmax(0, 1.5fr) minmax(0, 1fr)" },
    gap: 3,
    alignItems: "start",
  },
  head: { display: "flex", flexWrap: "wrap", alignItems: "center", columnGap: 2.5, mb: 1.5 },
  notice: { border: `1px solid ${tokens.hairline}`, p: 1.2, mb: 1, display: "flex", gap: 1.2 },
  sortie: {
    border: `1px solid ${tokens.hairline}`,
    px: 2,
    py: 1.2,
    mb: 1,
    display: "grid",
    gridTemplateColumns: "64px minmax(0, 1fr) auto",
    gap: 2,
    alignItems: "center",
  },
  at: { ...narrow, fontSize: 22, fontWeight: 740 },
  earlier: { fontSize: 12.5, fontWeight: 450, color: tokens.slate },
  booked: { fontSize: 14, color: tokens.stop, display: "flex", gap: 0.7, alignItems: "center" },
  steps: { display: "flex", gap: "3px", mt: 0.8, alignItems: "center" },
  stage: { fontSize: 12.5, color: tokens.slate, ml: 0.8 },
  signed: { border: `1px solid ${tokens.hairline}`, px: 1.5 },
  line: { py: 1, borderBottom: `1px solid ${tokens.hairline}`, "&:last-child": { borderBottom: 0 } },
  days: { ...narrow, display: "flex", flexWrap: "wrap", columnGap: 1.5 },
  unread: { ...narrow, fontSize: 12.5, color: tokens.mindInk, lineHeight: 1 },
  day: { color: tokens.plan, fontWeight: 650, fontSize: 14, lineHeight: { xs: "44px", md: "26px" } },
} as const;

const NEXT: Record<Stage, string> = {
  planned: "Plan and brief",
  briefed: "Fly",
  flown: "Debrief",
  debriefed: "Sign",
  signed: "Read",
};
/** What the asker does with it. */
function next(sortie: ComingSortie): string {
  if (sortie.cancelled !== null) return "Look";
  if (sortie.may_read) return "Read the brief";
  return sortie.may_say ? "Say how it was" : NEXT[sortie.stage];
}
const ANYBODY = 0;
const STEPS: Stage[] = ["planned", "briefed", "flown", "debriefed", "signed"];

export default function Today() {
  useTitle("Today");
  const person = useOutletContext<Person>();
  const [planningFor, setPlanningFor] = useState<number | null>(null);
  const openSortie = useCallback(() => setPlanningFor(ANYBODY), []);
  const found = useToday();
  const kept = useKept(person.id);
  const teaches = person.role !== "student";
  useOpens(openSortie);
  useCommands({ newSortie: () => teaches && setPlanningFor(ANYBODY) });
  if (found.isPending) return <Loading what="today" />;
  if (found.isError) return <Trouble error={found.error} again={() => void found.refetch()} />;
  const { now, sorties, notices, recent } = found.data;
  const coming = sorties.filter((s) => s.mine && !s.left_over),
    others = sorties.filter((s) => !s.mine),
    leftOver = sorties.filter((s) => s.mine && s.left_over);
  const days = [...new Set(coming.map((s) => day(s.planned_for)))];
  return (
    <Box component="main" sx={styles.page}>
      <Box>
        <Box sx={styles.head}>
          <DayHead />
          <Typography variant="h1" sx={{ flex: 1 }}>
            {day(now)}
          </Typography>
          {teaches && (
            <Button variant="contained" onClick={() => setPlanningFor(ANYBODY)}>
              Plan a sortie
              <Key of="newSortie" pale />
            </Button>
          )}
        </Box>
        {person.role === "chief" && coming.length === 0 && recent.length === 0 && <FirstSteps />}
        {coming.length === 0 && (
          <Empty>
            {teaches
              ? "Nothing is planned. Plan a sortie: a student, a lesson and an aircraft are enough."
              : "Nothing is planned for you. Your instructor plans the next sortie."}
          </Empty>
        )}
        {days.map((d) => (
          <Box key={d} sx={{ mb: 2 }}>
            <Typography variant="h2" sx={{ mb: 0.8 }}>
              {d === day(now) ? "Today" : d}
            </Typography>
            {coming
              .filter((s) => day(s.planned_for) === d)
              .map((s) => (
                <Coming key={s.id} sortie={s} kept={kept.get(s.id)} />
              ))}
          </Box>
        ))}
        {leftOver.length > 0 && (
          <Box component="section" aria-label="Left open" sx={{ mb: 2 }}>
            <Typography variant="h2" sx={{ mb: 0.8 }}>
              Left open: {leftOver.length} of earlier days, not signed
            </Typography>
            {leftOver.map((s) => (
              <Coming key={s.id} sortie={s} kept={kept.get(s.id)} />
            ))}
          </Box>
        )}
        {others.length > 0 && <Others sorties={others} now={now} />}
        {teaches && <WhoIsDue onPlan={setPlanningFor} />}
      </Box>
      <Box>
        {notices.length > 0 && (
          <Box sx={{ mb: 2 }}>
            <Typography variant="h2" sx={{ mb: 0.5, lineHeight: "36px" }}>
              See to this
            </Typography>
            {notices.map((n) => (
              <Paper key={n.title} sx={styles.notice}>
                <VerdictMark verdict={n.verdict} />
                <Box>
                  <Typography sx={{ fontWeight: 660 }}>{n.title}</Typography>
                  <Typography sx={{ fontSize: 13.5, color: tokens.slate }}>{n.sentence}</Typography>
                </Box>
              </Paper>
            ))}
          </Box>
        )}
        {teaches && <Inbox />}
        <Typography variant="h2" sx={{ mb: 1, lineHeight: "36px" }}>
          Signed lately
        </Typography>
        {recent.length === 0 ? (
          <Empty>No signed sortie yet.</Empty>
        ) : (
          <Paper sx={styles.signed}>
            {bySubject(recent).map(({ key, first, days: flown }) => (
              <Box key={key} sx={styles.line}>
                <Typography>
                  <b>{first.student}</b> {first.lesson_name}
                </Typography>
                <Box sx={styles.days}>
                  {flown.map((s) => (
                    <Box component={Link} key={s.id} to={`/sorties/${s.id}/sign`} sx={styles.day}>
                      {day(s.planned_for)}
                      {!teaches && !s.sheet_read && <Box sx={styles.unread}>Sheet to read</Box>}
                    </Box>
                  ))}
                </Box>
              </Box>
            ))}
          </Paper>
        )}
      </Box>
      {planningFor !== null && <StartSortie studentId={planningFor} onClose={() => setPlanningFor(null)} />}
    </Box>
  );
}

/** One line for a student's lesson, however often it was flown: the latest first. */
function bySubject(signed: SignedSortie[]) {
  const found = new Map<string, SignedSortie[]>();
  for (const s of signed) {
    const key = `${s.student_id} ${s.lesson_name}`;
    found.set(key, [...(found.get(key) ?? []), s]);
  }
  return [...found].flatMap(([key, days]) => (days[0] ? [{ key, first: days[0], days }] : []));
}

function Coming({ sortie, kept }: { sortie: ComingSortie; kept: number | undefined }) {
  const at = STEPS.indexOf(sortie.stage);
  return (
    <Paper sx={styles.sortie}>
      <Box sx={styles.at}>
        {time(sortie.planned_for)}
        {sortie.left_over && <Box sx={styles.earlier}>{day(sortie.planned_for)}</Box>}
      </Box>
      <Box sx={{ minWidth: 0 }}>
        <Typography sx={{ fontWeight: 700, fontSize: 16 }}>
          {sortie.student}{" "}
          <Box component="span" sx={{ fontWeight: 450 }}>
            {sortie.lesson_name}, {sortie.figures} figures
          </Box>
        </Typography>
        {sortie.last_time.length > 0 && (
          <Typography sx={{ fontSize: 14 }}>
            Last time: {sortie.last_time.join(", ").toLowerCase()}
          </Typography>
        )}
        {sortie.cancelled !== null && (
          <Typography sx={styles.booked}>
            <VerdictMark verdict="stop" size={14} />
            Cancelled: {sortie.cancelled}
          </Typography>
        )}
        {sortie.trouble && (
          <Typography sx={styles.booked}>
            <VerdictMark verdict="stop" size={14} />
            {sortie.trouble}
          </Typography>
        )}
        {sortie.clashes.length > 0 && (
          <Typography sx={styles.booked}>
            <VerdictMark verdict="stop" size={14} />
            Booked twice: {sortie.clashes.join("; ")}
          </Typography>
        )}
        {(sortie.read || sortie.open_questions > 0) && (
          <Typography sx={{ fontSize: 13.5, color: sortie.open_questions ? tokens.mindInk : tokens.fine }}>
            {sortie.read ? "Brief read" : ""}
            {sortie.read && sortie.open_questions ? ", " : ""}
            {sortie.open_questions
              ? `${sortie.open_questions} question${sortie.open_questions > 1 ? "s" : ""} to answer`
              : ""}
          </Typography>
        )}
        <Typography sx={{ color: tokens.slate, fontSize: 13.5 }}>
          {sortie.aircraft} {sortie.aircraft_name} · {sortie.place} · {sortie.instructor}
        </Typography>
        <Box sx={styles.steps} aria-label={`Stage: ${sortie.stage}`}>
          {STEPS.map((step, i) => (
            <Box key={step} sx={{ width: 34, height: 5, bgcolor: i <= at ? tokens.plan : tokens.hairline }} />
          ))}
          <Typography sx={styles.stage}>
            {sortie.stage}
            {kept !== undefined && `, on this device since ${time(serverTime(kept))}`}
          </Typography>
        </Box>
      </Box>
      {!sortie.trouble && (
        <Button component={Link} to={`/sorties/${sortie.id}`} variant="outlined">
          {next(sortie)}
        </Button>
      )}
    </Paper>
  );
}
