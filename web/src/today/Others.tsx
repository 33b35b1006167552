import { Box, Paper, Typography } from "@mui/material";
import { Link } from "react-router";
import type { ComingSortie } from "../api/types";
import { day, time } from "../frame/dates";
import { narrow, tokens } from "../theme";

const styles = {
  all: { border: `1px solid ${tokens.hairline}`, px: 2 },
  line: {
    display: "grid",
    gridTemplateColumns: { xs: "64px minmax(0, 1fr)", sm: "64px minmax(0, 1fr) auto" },
    columnGap: 2,
    alignItems: "center",
    py: 0.6,
    borderBottom: `1px solid ${tokens.hairline}`,
    "&:last-child": { borderBottom: 0 },
  },
  at: { ...narrow, fontWeight: 700, fontSize: 15, lineHeight: 1.15 },
  open: { color: tokens.plan, fontWeight: 680, lineHeight: { xs: "44px", md: "26px" } },
  who: { color: tokens.slate, fontSize: 13.5, gridColumn: { xs: 2, sm: "auto" } },
} as const;

/** What colleagues fly: to be read, and taken over where they cannot. */
export function Others({ sorties, now }: { sorties: ComingSortie[]; now: string }) {
  return (
    <Box component="section" aria-label="Flown by others" sx={{ mb: 2 }}>
      <Typography variant="h2" sx={{ mb: 0.8 }}>
        Flown by others
      </Typography>
      <Paper sx={styles.all}>
        {sorties.map((s) => (
          <Box key={s.id} sx={styles.line}>
            <Box sx={styles.at}>
              {time(s.planned_for)}
              {day(s.planned_for) !== day(now) && <Box sx={{ fontSize: 12.5 }}>{day(s.planned_for)}</Box>}
            </Box>
            <Box sx={{ minWidth: 0 }}>
              <Typography>
                <Box component={Link} to={`/sorties/${s.id}`} sx={styles.open}>
                  {s.student}
                </Box>{" "}
                {s.lesson_name}
              </Typography>
              {s.cancelled !== null && <Box sx={{ color: tokens.stop }}>Cancelled: {s.cancelled}</Box>}
            </Box>
            <Typography sx={styles.who}>
              {s.aircraft} · {s.instructor}
            </Typography>
          </Box>
        ))}
      </Paper>
    </Box>
  );
}
