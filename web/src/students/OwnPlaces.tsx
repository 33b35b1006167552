import { Box, Typography } from "@mui/material";
import { useCatalogue } from "../api/questions";
import type { Student } from "../api/types";
import { narrow, tokens } from "../theme";

const styles = {
  row: { mt: 0.8 },
  head: { display: "flex", justifyContent: "space-between", alignItems: "baseline", gap: 1 },
  numbers: { ...narrow, fontSize: 13.5, whiteSpace: "nowrap" },
  words: { fontSize: 12.5, color: tokens.slate, lineHeight: 1.3 },
  scale: { position: "relative", height: 12, my: 0.4, bgcolor: tokens.sky, borderRadius: 0.5 },
} as const;

/** Where the student stands among a hundred pilots of the population, figure by figure. */
export function OwnPlaces({ own }: { own: Student["own"] }) {
  const names = useCatalogue().data?.figures ?? [];
  const dearest = [...own].sort((a, b) => b.in_100 - a.in_100);
  return (
    <Box component="section" aria-label="Own numbers">
      <Typography variant="h2">Own numbers</Typography>
      {own.length === 0 && (
        <Typography sx={styles.words}>
          None yet: they are learnt from debriefed attempts with a start and a lowest height.
        </Typography>
      )}
      {dearest.map((one) => (
        <Box key={one.figure} sx={styles.row}>
          <Box sx={styles.head}>
            <Typography sx={{ fontWeight: 650 }}>
              {names.find((f) => f.key === one.figure)?.name ?? one.figure}
            </Typography>
            <Typography sx={styles.numbers}>
              {one.worst_ft.toLocaleString("en")} ft, population{" "}
              {one.population_worst_ft.toLocaleString("en")}
            </Typography>
          </Box>
          <Box sx={styles.scale} aria-hidden>
            <Mark left={one.least} right={one.most} colour={tokens.flownPale} />
            <Mark left={one.in_100 - 1} right={one.in_100 + 1} colour={tokens.flown} />
            <Mark left={49.7} right={50.3} colour={tokens.plan} />
          </Box>
          <Typography sx={styles.words}>{one.words}</Typography>
        </Box>
      ))}
      {own.length > 0 && (
        <Typography sx={{ ...styles.words, mt: 1 }}>
          Feet: 19 times in 20 within, as each was last briefed. Left of the middle costs less height than
          most pilots need.
        </Typography>
      )}
    </Box>
  );
}

function Mark({ left, right, colour }: { left: number; right: number; colour: string }) {
  const from = Math.max(0, left),
    to = Math.min(100, right);
  return (
    <Box
      sx={{
        position: "absolute",
        top: 1,
        bottom: 1,
        left: `${from}%`,
        width: `max(2px, ${to - from}%)`,
        bgcolor: colour,
      }}
    />
  );
}
