import { Box, Typography } from "@mui/material";
import type { BriefPage } from "../../api/types";
import { tokens } from "../../theme";

const styles = {
  title: { fontSize: 34, fontWeight: 780, letterSpacing: "-0.015em", mb: 1.5 },
  lines: {
    m: 0,
    pl: 4.5,
    fontSize: 24,
    lineHeight: 1.35,
    "& li": { mb: 1.4 },
    "& li::marker": { color: tokens.plan, fontWeight: 740 },
  },
  caution: { mt: 2, color: tokens.slate, fontSize: 14 },
} as const;

/** Words said before every flight: large, one line each. */
export function WordsPage({ page }: { page: BriefPage }) {
  return (
    <Box component="article" aria-label={page.title} sx={{ maxWidth: 860 }}>
      <Typography component="h2" sx={styles.title}>
        {page.title}
      </Typography>
      <Box component="ol" sx={styles.lines}>
        {page.lines.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </Box>
      <Typography sx={styles.caution}>
        Where the flight manual, local rules or your instructor say otherwise, they win.
      </Typography>
    </Box>
  );
}
