import { Box, Typography } from "@mui/material";
import type { BriefPage } from "../../api/types";
import { tokens } from "../../theme";

/** Words said before every flight: large, one line each. */
export function WordsPage({ page }: { page: BriefPage }) {
  return (
    <Box component="article" aria-label={page.title} sx={{ maxWidth: 860 }}>
      <Typography component="h2" sx={{ fontSize: 34, fontWeight: 780, letterSpacing: "-0.015em", mb: 1.5 }}>
        {page.title}
      </Typography>
      <Box
        component="ol"
        sx={{
          m: 0,
          pl: 4.5,
          fontSize: 24,
          lineHeight: 1.35,
          "& li": { mb: 1.4 },
          "& li::marker": { color: tokens.plan, fontWeight: 740 },
        }}
      >
        {page.lines.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </Box>
      <Typography sx={{ mt: 2, color: tokens.slate, fontSize: 14 }}>
        Where the flight manual, local rules or your instructor say otherwise, they win.
      </Typography>
    </Box>
  );
}
