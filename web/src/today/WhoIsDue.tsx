import { Box, Button, Paper, Typography } from "@mui/material";
import { Link } from "react-router";
import { useStudents } from "../api/questions";
import type { StudentLine } from "../api/types";
import { Trouble } from "../frame/states";
import { tokens } from "../theme";
import { VerdictMark } from "../verdict/VerdictMark";

const styles = {
  all: { border: `1px solid ${tokens.hairline}`, px: 2 },
  line: {
    display: "flex",
    gap: 1.5,
    alignItems: "center",
    py: 1,
    borderBottom: `1px solid ${tokens.hairline}`,
    "&:last-child": { borderBottom: 0 },
  },
  name: { color: tokens.plan, fontWeight: 700, fontSize: 16 },
  more: { fontSize: 14, color: tokens.slate },
} as const;

/** Who should be booked, and why; who is not and need not be stands below. */
export function WhoIsDue({ onPlan }: { onPlan: (student: number) => void }) {
  const found = useStudents();
  if (found.isPending) return null;
  if (found.isError) return <Trouble error={found.error} again={() => void found.refetch()} />;
  const open = found.data.filter((s) => s.booked === null);
  const due = open.filter((s) => s.is_due).length;
  return (
    <Box component="section" aria-label="Who is due" sx={{ mb: 2 }}>
      <Typography variant="h2" sx={{ mb: 0.8 }}>
        {due > 0 ? `Due: ${due} not booked for too long` : "Nobody is due"}
      </Typography>
      {open.length > 0 && (
        <Paper sx={styles.all}>
          {open.map((s) => (
            <Box key={s.id} sx={styles.line}>
              <VerdictMark verdict={s.is_due ? "mind" : "fine"} size={16} />
              <Box sx={{ flex: 1, minWidth: 0 }}>
                <Typography sx={{ fontWeight: 600 }}>
                  <Box component={Link} to={`/students/${s.id}`} sx={styles.name}>
                    {s.name}
                  </Box>{" "}
                  {s.why_due}
                </Typography>
                <Typography sx={styles.more}>{nextAndLast(s)}</Typography>
              </Box>
              <Button variant="outlined" onClick={() => onPlan(s.id)} aria-label={`Plan for ${s.name}`}>
                Plan
              </Button>
            </Box>
          ))}
        </Paper>
      )}
    </Box>
  );
}

function nextAndLast(s: StudentLine): string {
  const felt = s.last_feel === null ? "" : `. Last felt ${s.last_feel} of 10`;
  const next = s.next_lesson ? `Next: ${s.next_lesson}` : "In no course yet";
  return `${next}${felt}${s.stubborn ? `. ${s.stubborn.words} is not going away` : ""}`;
}
