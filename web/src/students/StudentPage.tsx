import { useTitle } from "../frame/useTitle";
import { api } from "../api/client";
import {
  Box,
  Button,
  Paper,
  Table,
  TableBody,
  TableCell,
  TableRow,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { Link, useOutletContext, useParams } from "react-router";
import type { Person, Student } from "../api/types";
import { day } from "../frame/dates";
import { Empty, Loading, Trouble } from "../frame/states";
import { narrow, tokens } from "../theme";
import { StartSortie } from "../today/starting";
import { VerdictMark } from "../verdict/VerdictMark";
import { AttemptsOverTime } from "./AttemptsOverTime";

const styles = {
  page: {
    height: "100%",
    display: "grid",
    gridTemplateColumns: { xs: "1fr", md: "minmax(0, 1fr) 380px" },
    overflow: { xs: "auto", md: "hidden" },
  },
  main: { p: 2.5, overflow: "auto", minWidth: 0, display: "flex", flexDirection: "column", gap: 1.5 },
  head: { display: "flex", justifyContent: "space-between", alignItems: "flex-start", gap: 2 },
  reached: { display: "flex", flexWrap: "wrap", gap: 1 },
  standard: { border: `1px solid ${tokens.hairline}`, px: 1.5, py: 0.8, minWidth: 130 },
  attempts: { flex: 1, minHeight: 380, display: "flex", flexDirection: "column" },
  attemptsHead: { display: "flex", alignItems: "center", gap: 1.5, flexWrap: "wrap", mb: 0.5 },
  aside: { p: 2.5, overflow: "auto", borderLeft: `1px solid ${tokens.hairline}` },
  fault: { display: "flex", gap: 1.2, py: 0.9, borderBottom: `1px solid ${tokens.hairline}` },
  trend: { ...narrow, fontSize: 13, color: tokens.slate },
} as const;

const MARKS = {
  gone: "fine",
  "going away": "fine",
  "not going away": "mind",
  new: "mind",
  "too few to tell": null,
} as const;

export default function StudentPage() {
  const id = Number(useParams().id);
  const found = api.useQuery("get", "/api/students/{student_id}", { params: { path: { student_id: id } } });
  if (found.isPending) return <Loading what="the record" />;
  if (found.isError) return <Trouble error={found.error} again={() => void found.refetch()} />;
  return <OneStudent student={found.data} />;
}

function OneStudent({ student }: { student: Student }) {
  useTitle(student.name);
  const person = useOutletContext<Person>();
  const [planning, setPlanning] = useState(false);
  const kinds = student.reached
    .map((r) => ({ key: r.figure, name: r.name }))
    .concat(
      [...new Set(student.attempts.map((a) => a.figure))]
        .filter((k) => !student.reached.some((r) => r.figure === k))
        .map((key) => ({ key, name: student.attempts.find((a) => a.figure === key)?.title ?? key })),
    );
  const [figure, setFigure] = useState(kinds.find((k) => k.key === "spin")?.key ?? kinds[0]?.key ?? "");
  return (
    <Box component="main" sx={styles.page}>
      <Box sx={styles.main}>
        <Box sx={styles.head}>
          <Box>
            <Typography variant="h1">{student.name}</Typography>
            <Typography sx={{ color: tokens.slate }}>
              {student.stage} · {student.sorties === 1 ? "1 sortie" : `${student.sorties} sorties`} flown
              {student.last_flew && `, last ${day(student.last_flew)}`} · {student.goal}
            </Typography>
          </Box>
          {person.role !== "student" && (
            <Button variant="contained" onClick={() => setPlanning(true)} sx={{ whiteSpace: "nowrap" }}>
              Plan a sortie
            </Button>
          )}
        </Box>
        {student.reached.length > 0 && (
          <Box>
            <Typography variant="h2" sx={{ mb: 0.5 }}>
              The way so far
            </Typography>
            <Box sx={styles.reached}>
              {student.reached.map((r) => (
                <Paper key={r.figure} sx={styles.standard}>
                  <Typography sx={{ fontSize: 13.5 }}>{r.name}</Typography>
                  <Typography sx={{ fontWeight: 740, fontSize: 17 }}>{r.grade}</Typography>
                  <Typography sx={{ fontSize: 12.5, color: tokens.slate }}>{r.attempts} attempts</Typography>
                </Paper>
              ))}
            </Box>
          </Box>
        )}
        {student.attempts.length === 0 ? (
          <Empty>Nothing flown yet. The heights of the first sortie will appear here.</Empty>
        ) : (
          <Box sx={styles.attempts}>
            <Box sx={styles.attemptsHead}>
              <Typography variant="h2">Height spent on</Typography>
              <ToggleButtonGroup
                exclusive
                size="small"
                value={figure}
                onChange={(_, key: string | null) => key && setFigure(key)}
                aria-label="Figure"
              >
                {kinds.map((k) => (
                  <ToggleButton key={k.key} value={k.key} sx={{ py: 0 }}>
                    {k.name}
                  </ToggleButton>
                ))}
              </ToggleButtonGroup>
            </Box>
            <AttemptsOverTime attempts={student.attempts.filter((a) => a.figure === figure)} />
          </Box>
        )}
      </Box>
      <Box sx={styles.aside}>
        <Typography variant="h2">Faults</Typography>
        {student.trends.length === 0 && <Empty>None noted.</Empty>}
        {student.trends.map((t) => {
          const mark = MARKS[t.trend];
          return (
            <Box key={t.words} sx={styles.fault}>
              <Box sx={{ width: 18 }}>{mark && <VerdictMark verdict={mark} />}</Box>
              <Box>
                <Typography sx={{ fontWeight: 660 }}>{t.words}</Typography>
                <Typography sx={styles.trend}>{t.sentence}</Typography>
              </Box>
            </Box>
          );
        })}
        <Typography variant="h2" sx={{ mt: 2.5 }}>
          Record
        </Typography>
        <Table size="small" sx={narrow}>
          <TableBody>
            {student.record.map((s) => (
              <TableRow key={s.id}>
                <TableCell sx={{ pl: 0 }}>
                  <Link to={`/sorties/${s.id}`} style={{ color: tokens.plan, fontWeight: 640 }}>
                    {day(s.planned_for)}
                  </Link>
                </TableCell>
                <TableCell>{s.lesson_name}</TableCell>
                <TableCell>{s.aircraft}</TableCell>
                <TableCell>{s.cancelled === null ? s.stage : "cancelled"}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
        {student.record.length === 0 && <Empty>No sortie yet.</Empty>}
      </Box>
      {planning && <StartSortie studentId={student.id} onClose={() => setPlanning(false)} />}
    </Box>
  );
}
