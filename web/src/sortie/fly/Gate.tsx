import { Box, Typography, useMediaQuery } from "@mui/material";
import { narrow, ONE_COLUMN, tokens } from "../../theme";
import type { FlyFigure } from "./figures";

const styles = {
  head: { display: "flex", justifyContent: "space-between", alignItems: "baseline", gap: 1 },
  title: {
    fontSize: { xs: 27, sm: 34 },
    fontWeight: 780,
    letterSpacing: "-0.015em",
    lineHeight: 1.05,
  },
  of: { color: tokens.slate, fontWeight: 640, whiteSpace: "nowrap" },
  numbers: {
    display: "grid",
    gridTemplateColumns: "repeat(4, auto)",
    justifyContent: "space-between",
    columnGap: 1,
    borderBottom: `2px solid ${tokens.ink}`,
    py: 0.4,
    m: 0,
  },
  cell: { display: "flex", flexDirection: "column" },
  words: { fontSize: { xs: 13.5, sm: 15 }, lineHeight: 1.15 },
  number: { ...narrow, fontSize: { xs: 28, sm: 40 }, fontWeight: 780, lineHeight: 1, m: 0 },
  spoken: { fontSize: { xs: 17, sm: 23 }, fontWeight: 640, lineHeight: 1.22, mt: 0.6 },
  right: { color: tokens.best },
  stop: { fontSize: { xs: 14.5, sm: 18 }, color: tokens.stop, fontWeight: 640, lineHeight: 1.2, mt: 0.3 },
} as const;

/** What was briefed for the figure, big enough for the air. */
export function Gate({ figure, title, place }: { figure: FlyFigure; title: string; place: string }) {
  const its = figure.answer;
  // Where nothing else is on the screen it is what the screen is called.
  const alone = useMediaQuery(ONE_COLUMN);
  const start = its && its.lowest_start.value > its.start.value ? its.lowest_start : its?.start;
  const floor = figure.lines.find((l) => l.kind === "floor")?.limit;
  const cells = [
    [figure.setUp ? "At least" : "Start", start?.number, tokens.ink],
    ["Enter", its?.entry.shown, tokens.ink],
    ["Mine at", its?.take_over.number, tokens.mindInk],
    ["Floor", floor?.number, tokens.stop],
  ] as const;
  return (
    <Box>
      <Box sx={styles.head}>
        <Typography component={alone ? "h1" : "h2"} sx={styles.title}>
          {title}
        </Typography>
        <Box component="span" sx={styles.of}>
          {place}
        </Box>
      </Box>
      <Box component="dl" sx={styles.numbers}>
        {cells.map(([words, shown, color]) => (
          <Box key={words} sx={{ ...styles.cell, color }}>
            <Box component="dt" sx={styles.words}>
              {words}
            </Box>
            <Box component="dd" sx={styles.number}>
              {shown ?? "–"}
            </Box>
          </Box>
        ))}
      </Box>
      {its && (
        <>
          {figure.setUp && (
            <Typography sx={styles.spoken}>
              {figure.setUp.how}{" "}
              <Box component="span" sx={styles.right}>
                Right: {figure.setUp.firstInput}
              </Box>
            </Typography>
          )}
          {!figure.setUp && <Typography sx={styles.spoken}>{its.spoken}</Typography>}
          <Typography sx={styles.stop}>
            {its.stop_words[0]}{" "}
            <Box component="span" sx={{ color: tokens.slate }}>
              To {its.most_g.shown}; power {its.power}; mine if {its.take_over_words}.
            </Box>
          </Typography>
        </>
      )}
    </Box>
  );
}
