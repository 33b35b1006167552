import { Box, Typography } from "@mui/material";
import type { Task } from "../api/types";
import { day } from "../frame/dates";
import { tokens } from "../theme";
import { STATE_INK } from "./WayPicture";

const styles = {
  head: { display: "flex", justifyContent: "space-between", gap: 1, alignItems: "baseline" },
  title: { fontSize: 17, fontWeight: 680 },
  state: { fontSize: 17, fontWeight: 740, whiteSpace: "nowrap" },
  list: { m: 0, pl: 2.2, fontSize: 14 },
  small: { fontSize: 13.5, color: tokens.slate },
} as const;

/** One task: where it stands, why, and what is missing. */
export function TaskPanel({ task }: { task: Task }) {
  return (
    <Box component="section" aria-label="Task" aria-live="polite">
      <Box sx={styles.head}>
        <Typography component="h2" sx={styles.title}>
          {task.title}
        </Typography>
        <Typography sx={{ ...styles.state, color: STATE_INK[task.state] }}>{task.state}</Typography>
      </Box>
      <Box component="ul" sx={styles.list}>
        {task.reasons.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </Box>
      {task.missing.length > 0 && (
        <>
          <Typography sx={{ fontWeight: 650, mt: 0.6 }}>
            {task.met
              ? "As the course needs it; for more:"
              : `Needed: ${task.needed}. Missing for the next state:`}
          </Typography>
          <Box component="ul" sx={styles.list}>
            {task.missing.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </Box>
        </>
      )}
      {task.standard && <Typography sx={styles.small}>Standard: {task.standard}</Typography>}
      {task.lapses_on && (
        <Typography sx={styles.small}>
          Falls by one on {day(task.lapses_on)} if not shown until then.
        </Typography>
      )}
    </Box>
  );
}
