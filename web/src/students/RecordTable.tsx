import { Box, Table, TableBody, TableCell, TableHead, TableRow } from "@mui/material";
import { Link } from "react-router";
import type { Student } from "../api/types";
import { day } from "../frame/dates";
import { Empty } from "../frame/states";
import { narrow, tokens } from "../theme";

interface Props {
  record: Student["record"];
  attempts: Student["attempts"];
}

/** Every sortie of the student, the latest first, with what was corrected of it since it was signed. */
export function RecordTable({ record, attempts }: Props) {
  const corrected = (id: number) =>
    attempts.filter((a) => a.sortie_id === id).flatMap((a) => a.corrected.map((c) => `${a.title}: ${c}`));
  if (record.length === 0) return <Empty>No sortie yet.</Empty>;
  return (
    <Box sx={{ overflow: "auto", flex: 1, minHeight: 0 }}>
      <Table size="small" stickyHeader sx={narrow}>
        <TableHead>
          <TableRow>
            <TableCell>Day</TableCell>
            <TableCell>Lesson</TableCell>
            <TableCell>Instructor</TableCell>
            <TableCell>Aircraft</TableCell>
            <TableCell>Stage</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {record.map((s) => (
            <TableRow key={s.id}>
              <TableCell>
                <Link to={`/sorties/${s.id}`} style={{ color: tokens.plan, fontWeight: 640 }}>
                  {day(s.planned_for)}
                </Link>
              </TableCell>
              <TableCell>
                {s.lesson_name}
                {corrected(s.id).map((words) => (
                  <Box key={words} sx={{ fontSize: 12.5, color: tokens.mindInk }}>
                    {words}
                  </Box>
                ))}
              </TableCell>
              <TableCell>{s.instructor}</TableCell>
              <TableCell>{s.aircraft}</TableCell>
              <TableCell>{s.cancelled === null ? s.stage : `cancelled: ${s.cancelled}`}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Box>
  );
}
