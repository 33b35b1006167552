import { useTitle } from "../frame/useTitle";
import {
  Box,
  Button,
  Paper,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
} from "@mui/material";
import { Link, useOutletContext } from "react-router";
import { useStudents } from "../api/questions";
import type { Person, StudentLine } from "../api/types";
import { dayAndTime, day } from "../frame/dates";
import { Empty, Loading, Trouble } from "../frame/states";
import { narrow, tokens } from "../theme";
import { VerdictMark } from "../verdict/VerdictMark";
import { FEEL_ENDS } from "../frame/feel";

const styles = {
  sheet: { border: `1px solid ${tokens.hairline}`, overflowX: "auto" },
  table: {
    ...narrow,
    "& td": { verticalAlign: "top", py: 1.4 },
    // On a phone each student is a block of lines.
    "& tr": { display: { xs: "block", md: "table-row" }, py: { xs: 1, md: 0 } },
    "& td, & th": { display: { xs: "block", md: "table-cell" }, fontSize: 15 },
    "& td:not(:last-of-type)": { borderBottom: { xs: 0, md: `1px solid ${tokens.hairline}` } },
    "& td + td": { pt: { xs: 0, md: 1.4 } },
    "& thead": { display: { xs: "none", md: "table-header-group" } },
  },
  name: { color: tokens.plan, fontWeight: 720, fontSize: 17 },
  small: { fontSize: 13.5, color: tokens.slate },
  due: { display: "flex", gap: 0.8, alignItems: "flex-start", fontWeight: 650 },
  feel: { fontSize: 22, fontWeight: 740, lineHeight: 1 },
} as const;

export default function Students() {
  useTitle("Students");
  const person = useOutletContext<Person>();
  const found = useStudents();
  if (found.isPending) return <Loading what="the students" />;
  if (found.isError) return <Trouble error={found.error} again={() => void found.refetch()} />;
  const due = found.data.filter((s) => s.is_due).length;
  return (
    <Box component="main" sx={{ p: 2.5 }}>
      <Box sx={{ display: "flex", justifyContent: "space-between", alignItems: "center", mb: 1.5 }}>
        <Typography variant="h1">Students{due > 0 ? `: ${due} due` : ""}</Typography>
        {person.role === "chief" && (
          <Button variant="outlined" component={Link} to="/school">
            The school as a whole
          </Button>
        )}
      </Box>
      {found.data.length === 0 ? (
        <Empty>No student yet.</Empty>
      ) : (
        <Paper sx={styles.sheet}>
          <Table sx={styles.table}>
            <TableHead>
              <TableRow>
                <TableCell>Student</TableCell>
                <TableCell>Due</TableCell>
                <TableCell>Next lesson</TableCell>
                <TableCell>
                  Felt last
                  <Box sx={{ ...styles.small, whiteSpace: "nowrap" }}>{FEEL_ENDS}</Box>
                </TableCell>
                <TableCell>Fault that stays</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {found.data.map((s) => (
                <One key={s.id} student={s} />
              ))}
            </TableBody>
          </Table>
        </Paper>
      )}
    </Box>
  );
}

function One({ student: s }: { student: StudentLine }) {
  return (
    <TableRow hover>
      <TableCell>
        <Box component={Link} to={`/students/${s.id}`} sx={styles.name}>
          {s.name}
        </Box>
        <Box sx={styles.small}>{s.course || "In no course yet"}</Box>
        <Box sx={styles.small}>
          Standing: {s.stage}, {s.sorties === 1 ? "1 sortie" : `${s.sorties} sorties`} flown
        </Box>
      </TableCell>
      <TableCell>
        <Box sx={styles.due}>
          <VerdictMark verdict={s.is_due ? "mind" : "fine"} size={16} />
          {s.why_due}
        </Box>
        {s.booked && <Box sx={styles.small}>Booked {dayAndTime(s.booked)}</Box>}
        {s.last_flew && <Box sx={styles.small}>Last flew {day(s.last_flew)}</Box>}
      </TableCell>
      <TableCell sx={{ maxWidth: 340 }}>
        <b>{s.next_lesson || "–"}</b>
        <Box sx={styles.small}>{s.next_why.replace(`${s.next_lesson}: `, "").replace(/^n/, "N")}</Box>
      </TableCell>
      <TableCell sx={{ whiteSpace: "nowrap" }}>
        {s.last_feel === null ? (
          <Box sx={styles.small}>no number given</Box>
        ) : (
          <>
            <Box component="span" sx={styles.feel}>
              {s.last_feel}
            </Box>{" "}
            of 10
            <Box sx={{ ...styles.small, display: { md: "none" } }}>{FEEL_ENDS}</Box>
          </>
        )}
      </TableCell>
      <TableCell>
        {s.stubborn ? (
          <>
            <b>{s.stubborn.words}</b>
            <Box sx={styles.small}>{s.stubborn.sentence}</Box>
          </>
        ) : (
          <Box sx={styles.small}>none</Box>
        )}
      </TableCell>
    </TableRow>
  );
}
