import { Box, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Week } from "../api/types";
import { day, time } from "../frame/dates";
import { Empty } from "../frame/states";
import { narrow, tokens } from "../theme";

const styles = {
  line: {
    display: "grid",
    gridTemplateColumns: "56px minmax(0, 1fr)",
    alignItems: "center",
    minHeight: 48,
    color: tokens.ink,
    textDecoration: "none",
    borderBottom: `1px solid ${tokens.hairline}`,
    bgcolor: tokens.sheet,
    px: 1,
  },
  at: { ...narrow, fontWeight: 700 },
  more: { fontSize: 13.5, color: tokens.slate },
} as const;

/** The same week as words, for a screen that is too small for its picture. */
export function WeekList({ week }: { week: Week }) {
  const days = [...new Set(week.sorties.map((s) => day(s.begins)))];
  if (days.length === 0) return <Empty>Nothing is booked in this week.</Empty>;
  return days.map((d) => (
    <Box key={d} sx={{ mb: 1.5 }}>
      <Typography variant="h2" sx={{ mb: 0.5 }}>
        {d}
      </Typography>
      {week.sorties
        .filter((s) => day(s.begins) === d)
        .map((s) => (
          <Box key={s.id} component={Link} to={`/sorties/${s.id}`} sx={styles.line}>
            <Box sx={styles.at}>{time(s.begins)}</Box>
            <Box sx={{ minWidth: 0 }}>
              <b>{s.student}</b> {s.lesson_name}
              <Box sx={styles.more}>
                {s.aircraft}, {s.instructor}, {s.cancelled === null ? s.stage : "cancelled"}
              </Box>
            </Box>
          </Box>
        ))}
    </Box>
  ));
}
