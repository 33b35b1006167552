import { Box, Typography } from "@mui/material";
import type { NextLesson } from "../api/types";
import { tokens } from "../theme";

const styles = {
  card: { bgcolor: tokens.plan, color: tokens.onPlan, p: 1.8 },
  name: { fontSize: 21, fontWeight: 720, lineHeight: 1.2 },
  why: { fontSize: 14, mt: 0.4 },
  other: { fontSize: 13.5, mt: 0.8 },
  notYet: { "& summary": { cursor: "pointer", fontSize: 13.5, mt: 0.8 }, "& li": { fontSize: 13.5 } },
} as const;

/** What to fly next and why, one that asks less and one that asks more, and what may not be flown yet. */
export function NextCard({ next }: { next: NextLesson }) {
  return (
    <Box component="section" aria-label="Next" sx={styles.card}>
      <Typography sx={{ fontSize: 14 }}>Next</Typography>
      <Typography component="h2" sx={styles.name}>
        {next.name}
      </Typography>
      {next.why.map((line) => (
        <Typography key={line} sx={styles.why}>
          {withoutName(line, next.name)}
        </Typography>
      ))}
      {next.gentler && (
        <Typography sx={styles.other}>
          Gentler: <b>{next.gentler.name}</b>, {next.gentler.why}
        </Typography>
      )}
      {next.harder && (
        <Typography sx={styles.other}>
          Harder: <b>{next.harder.name}</b>, {next.harder.why}
        </Typography>
      )}
      {next.not_yet.length > 0 && (
        <Box component="details" sx={styles.notYet}>
          <summary>Not yet: {next.not_yet.map((n) => n.name).join(", ")}</summary>
          {next.not_yet.map((n) => (
            <Typography key={n.lesson} sx={styles.other}>
              <b>{n.name}</b> needs {n.missing.join("; ")}
            </Typography>
          ))}
        </Box>
      )}
    </Box>
  );
}

/** The lesson stands above already. */
function withoutName(line: string, name: string): string {
  const rest = line.startsWith(`${name}: `) ? line.slice(name.length + 2) : line;
  return rest.charAt(0).toUpperCase() + rest.slice(1);
}
