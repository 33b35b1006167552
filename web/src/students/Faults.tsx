import { Box, Typography } from "@mui/material";
import type { Student } from "../api/types";
import { Empty } from "../frame/states";
import { narrow, tokens } from "../theme";
import { VerdictMark } from "../verdict/VerdictMark";

const styles = {
  fault: { display: "flex", gap: 1.2, py: 0.7, borderBottom: `1px solid ${tokens.hairline}` },
  trend: { ...narrow, fontSize: 13, color: tokens.slate },
} as const;

const MARKS = {
  gone: "fine",
  "going away": "fine",
  "not going away": "mind",
  new: "mind",
  "too few to tell": null,
} as const;

export function Faults({ trends }: { trends: Student["trends"] }) {
  return (
    <Box component="section" aria-label="Faults">
      <Typography variant="h2">Faults</Typography>
      {trends.length === 0 && <Empty>None noted.</Empty>}
      {trends.map((t) => {
        const mark = MARKS[t.trend];
        return (
          <Box key={t.words} sx={styles.fault}>
            <Box sx={{ width: 18 }}>{mark && <VerdictMark verdict={mark} />}</Box>
            <Box>
              <Typography sx={{ fontWeight: 660 }}>{t.words}</Typography>
              <Typography sx={styles.trend}>{t.sentence}</Typography>
            </Box>
          </Box>
        );
      })}
    </Box>
  );
}
