import { Box, Paper, Table, TableBody, TableCell, TableHead, TableRow, Typography } from "@mui/material";
import type { ReactNode } from "react";
import type { Course, CourseDocument, CourseLesson } from "../api/types";
import { narrow, tokens } from "../theme";

const styles = {
  head: { display: "flex", justifyContent: "space-between", gap: 2, alignItems: "flex-start" },
  slate: { color: tokens.slate, fontSize: 14.5 },
  halves: {
    display: "grid",
    gap: 2,
    gridTemplateColumns: { xs: "1fr", lg: "minmax(0, 5fr) minmax(0, 6fr)" },
    mt: 1.5,
    alignItems: "start",
  },
  lesson: { border: `1px solid ${tokens.hairline}`, p: 1.4, mb: 1 },
  flown: { ...narrow, m: 0, pl: 2.4, fontSize: 13.5, columns: 2 },
  table: { ...narrow, "& td, & th": { px: 0.8, py: 0.45, fontSize: 13.5, verticalAlign: "top" } },
} as const;

/** A course as it is read: its lessons in order beside its tasks and what is done on the ground. */
export function CourseSheet({ held, children }: { held: Course; children: ReactNode }) {
  const { course } = held;
  return (
    <>
      <Box sx={styles.head}>
        <Box>
          <Typography variant="h1" component="h2">
            {course.name}
          </Typography>
          <Typography sx={{ maxWidth: 720 }}>{course.purpose}</Typography>
          <Typography sx={styles.slate}>
            At least {course.flight_h} h in the air and {course.ground_h} h on the ground. {course.source}
            {course.source && "."}
          </Typography>
        </Box>
        {children}
      </Box>
      <Box sx={styles.halves}>
        <Box component="section" aria-label="Lessons">
          <Typography variant="h2" sx={{ mb: 0.6 }}>
            Lessons, in order
          </Typography>
          {course.lessons.map((lesson, i) => (
            <Lesson key={lesson.key} number={i + 1} lesson={lesson} held={held} />
          ))}
        </Box>
        <Box>
          <Tasks held={held} />
          <Ground course={course} />
        </Box>
      </Box>
    </>
  );
}

function Lesson({ number, lesson, held }: { number: number; lesson: CourseLesson; held: Course }) {
  const ground = lesson.ground.map((key) => held.course.ground.find((g) => g.key === key)?.words ?? key);
  return (
    <Paper sx={styles.lesson}>
      <Typography sx={{ fontWeight: 700, fontSize: 16 }}>
        {number}. {lesson.name}
      </Typography>
      <Typography sx={styles.slate}>{lesson.purpose}</Typography>
      <Box component="ol" sx={styles.flown}>
        {(held.flown[lesson.key] ?? []).map((words, i) => (
          <li key={i}>{words}</li>
        ))}
      </Box>
      <Typography sx={{ ...styles.slate, fontSize: 13, mt: 0.6 }}>
        From the standing ‘{lesson.standing}’
        {ground.length > 0 && `; on the ground before it: ${ground.join("; ")}`}
      </Typography>
    </Paper>
  );
}

function Tasks({ held }: { held: Course }) {
  return (
    <Box component="section" aria-label="Tasks">
      <Typography variant="h2" sx={{ mb: 0.6 }}>
        Tasks
      </Typography>
      <Paper sx={{ border: `1px solid ${tokens.hairline}` }}>
        <Table size="small" sx={styles.table}>
          <TableHead>
            <TableRow>
              <TableCell>Task</TableCell>
              <TableCell>Needed</TableCell>
              <TableCell>Within</TableCell>
              <TableCell>After</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {held.course.tasks.map((t) => (
              <TableRow key={t.key}>
                <TableCell>
                  <b>{held.titles[t.key]}</b>
                  {t.words && <Box sx={{ color: tokens.slate }}>{t.words}</Box>}
                </TableCell>
                <TableCell>{t.needed}</TableCell>
                <TableCell sx={{ whiteSpace: "nowrap" }}>
                  {t.within_ft == null ? "" : `${t.within_ft} ft`}
                </TableCell>
                <TableCell>{t.after.map((key) => held.titles[key]).join(", ")}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </Paper>
    </Box>
  );
}

function Ground({ course }: { course: CourseDocument }) {
  if (!course.ground.length) return null;
  return (
    <Box component="section" aria-label="On the ground" sx={{ mt: 2 }}>
      <Typography variant="h2">On the ground</Typography>
      <Box component="ul" sx={{ m: 0, pl: 2.4, fontSize: 14 }}>
        {course.ground.map((g) => (
          <li key={g.key}>
            {g.words}, {g.hours} h
          </li>
        ))}
      </Box>
    </Box>
  );
}
