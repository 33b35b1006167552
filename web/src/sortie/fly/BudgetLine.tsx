import { Box } from "@mui/material";
import { narrow, tokens } from "../../theme";
import type { Budget } from "./budget";

const styles = {
  line: {
    display: "flex",
    justifyContent: "space-between",
    borderBottom: `2px solid ${tokens.ink}`,
    pb: 0.4,
    m: 0,
    minWidth: 0,
  },
  cell: { minWidth: 0, textAlign: "center", display: "flex", flexDirection: "column-reverse" },
  words: { fontSize: 12.5, lineHeight: 1.1, color: tokens.slate, whiteSpace: "nowrap" },
  number: { ...narrow, fontSize: 19, fontWeight: 760, lineHeight: 1.1, m: 0, whiteSpace: "nowrap" },
} as const;

interface Props {
  budget: Budget | null;
  soFar: { most_g: number | null; feel: number | null };
  waiting: number;
  sent: number;
}

/** What is left, always in sight: minutes, fuel, height, the climb to the next gate, how many more fit, g and feel. */
export function BudgetLine({ budget, soFar, waiting, sent }: Props) {
  const number = (value: number | null | undefined, digits = 0) =>
    value == null ? "–" : value.toFixed(digits);
  const feet = (value: number | null | undefined) =>
    value == null ? "–" : (Math.round(value / 10) * 10).toLocaleString("en");
  const climb = budget?.climb_min ? `climb ${budget.climb_min.toFixed(1)} min` : "climb";
  const cells: [string, string, boolean?][] = [
    ["min", number(budget?.minutes === null ? null : Math.floor(budget?.minutes ?? 0))],
    ["gal", number(budget && Math.floor(budget.fuel)), budget?.spent],
    ["ft left", feet(budget?.left_ft)],
    [climb, feet(budget?.climb_ft)],
    [budget && budget.until !== "plan" ? `fit, ${budget.until}` : "more fit", number(budget?.fit)],
    ["most g", number(soFar.most_g, 1)],
    ["feel", number(soFar.feel)],
    waiting > 0 ? ["wait", String(waiting)] : ["sent", String(sent)],
  ];
  return (
    <Box component="dl" aria-label="What is left" sx={styles.line}>
      {cells.map(([words, shown, stop], i) => (
        <Box key={i} sx={styles.cell}>
          <Box component="dt" sx={styles.words}>
            {words}
          </Box>
          <Box component="dd" sx={{ ...styles.number, color: stop ? tokens.stop : tokens.ink }}>
            {shown}
          </Box>
        </Box>
      ))}
    </Box>
  );
}
