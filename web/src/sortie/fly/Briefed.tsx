import { Box, Typography } from "@mui/material";
import type { FigureAnswer } from "../../api/types";
import { narrow, tokens } from "../../theme";

const styles = {
  words: { fontSize: { xs: 13.5, sm: 15 }, lineHeight: 1.2 },
  number: { ...narrow, fontSize: { xs: 25, sm: 40 }, fontWeight: 780, lineHeight: 1.05 },
  title: {
    fontSize: { xs: 26, sm: 36 },
    fontWeight: 780,
    letterSpacing: "-0.015em",
    lineHeight: 1.05,
    mb: 1,
  },
  numbers: {
    display: "grid",
    gridTemplateColumns: "1fr 1fr",
    gap: 1,
    borderBottom: `2px solid ${tokens.ink}`,
    pb: 1,
    mb: 1,
  },
  spoken: { fontSize: { xs: 17, sm: 23 }, fontWeight: 640, lineHeight: 1.25 },
};

function Big({ words, shown, colour }: { words: string; shown: string; colour?: string }) {
  return (
    <Box>
      <Typography sx={{ ...styles.words, color: colour ?? tokens.slate }}>{words}</Typography>
      <Box sx={{ ...styles.number, color: colour ?? tokens.ink }}>{shown}</Box>
    </Box>
  );
}

/** What was briefed for the figure, big enough for the air. */
export function Briefed({ figure, n, of }: { figure: FigureAnswer; n: number; of: number }) {
  const start = figure.lowest_start.value > figure.start.value ? figure.lowest_start : figure.start;
  return (
    <Box>
      <Typography sx={{ color: tokens.slate, fontWeight: 640 }}>
        {n} of {of}
      </Typography>
      <Typography component="h2" sx={styles.title}>
        {figure.title}
      </Typography>
      <Box sx={styles.numbers}>
        <Big words="Lowest start" shown={start.shown} />
        <Big words="Enter at" shown={figure.entry.shown} />
        <Big
          words={`My controls if ${figure.take_over_words}`}
          shown={figure.take_over.shown}
          colour={tokens.mindInk}
        />
        <Big words="Floor" shown={figure.floor.shown} colour={tokens.stop} />
      </Box>
      <Typography sx={styles.spoken}>{figure.spoken}</Typography>
      <Typography sx={{ mt: 1, color: tokens.stop, fontWeight: 640 }}>{figure.stop_words[0]}</Typography>
    </Box>
  );
}
