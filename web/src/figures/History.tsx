import { Box, Typography } from "@mui/material";
import type { Change } from "../api/types";
import { dayAndTime } from "../frame/dates";
import { tokens } from "../theme";

const styles = {
  change: { fontSize: 14, py: 0.5, borderBottom: `1px solid ${tokens.hairline}` },
} as const;

/** Who changed it, when, from what to what. */
export function History({ changes, words }: { changes: Change[]; words: (document: unknown) => string }) {
  if (changes.length === 0) return null;
  return (
    <Box component="section" aria-label="Changes" sx={{ mt: 2 }}>
      <Typography variant="h2">Changes</Typography>
      {changes.map((c) => (
        <Box key={c.at} sx={styles.change}>
          <b>{c.by}</b> {dayAndTime(c.at)}: {words(c.after)}{" "}
          <Box component="span" sx={{ color: tokens.slate }}>
            (before: {words(c.before)})
          </Box>
        </Box>
      ))}
    </Box>
  );
}
