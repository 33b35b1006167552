import { Box, Typography } from "@mui/material";
import type { ReactNode } from "react";
import type { Answer } from "../api/types";
import { narrow, tokens } from "../theme";
import { WhyNumber } from "../why/WhyNumber";

const styles = {
  account: {
    display: "grid",
    gridTemplateColumns: "minmax(70px, max-content) minmax(60px, 1fr) max-content",
    columnGap: 1,
    rowGap: 0.5,
    alignItems: "center",
    fontSize: 13.5,
  },
  spent: { ...narrow, fontWeight: 680, textAlign: "right" },
  line: { gridColumn: "1 / -1", borderTop: `1px solid ${tokens.ink}`, my: 0.3 },
} as const;

export interface AccountBar {
  part: string;
  height_ft: number;
  shown: string;
  colour: string;
}

/** A bar account that adds up: each part hangs where the last one ended; a part that gave height back goes left. What it
 * adds up to stands under it: in `sums` where one number is not enough, else first of the totals. */
export function HeightAccount({
  bars,
  totals,
  sums,
}: {
  bars: AccountBar[];
  totals: [string, Answer][];
  sums?: ReactNode;
}) {
  const spans = bars.map((bar, i) => {
    const before = bars.slice(0, i).reduce((sum, b) => sum + b.height_ft, 0),
      after = before + bar.height_ft;
    return { ...bar, from: Math.min(before, after), to: Math.max(before, after) };
  });
  const most = Math.max(1, ...spans.map((s) => s.to));
  const least = Math.min(0, ...spans.map((s) => s.from));
  const share = (ft: number) => `${((ft - least) / (most - least)) * 100}%`;
  const added = totals.map(([words, answer], i) => {
    const weight = i === 0 && !sums ? 720 : 400;
    return (
      <Box role="row" key={words} sx={{ display: "contents" }}>
        <Typography
          role="cell"
          component="div"
          sx={{ gridColumn: "1 / 3", fontSize: 13.5, fontWeight: weight }}
        >
          {words}
        </Typography>
        <Box role="cell" sx={{ textAlign: "right", fontWeight: weight }}>
          <WhyNumber answer={answer} />
        </Box>
      </Box>
    );
  });
  return (
    <>
      <Box role="table" sx={styles.account}>
        {spans.map((span, i) => (
          <Box role="row" key={span.part + i} sx={{ display: "contents" }}>
            <Box role="cell" sx={{ maxWidth: 190, lineHeight: 1.25 }}>
              {span.part}
            </Box>
            <Box role="presentation" sx={{ position: "relative", height: 18 }}>
              <Box
                sx={{
                  position: "absolute",
                  top: 1,
                  bottom: 1,
                  left: share(span.from),
                  width: `max(2px, calc(${share(span.to)} - ${share(span.from)}))`,
                  bgcolor: span.colour,
                }}
              />
            </Box>
            <Box role="cell" sx={styles.spent}>
              {span.shown}
            </Box>
          </Box>
        ))}
        <Box sx={styles.line} />
        {!sums && added}
      </Box>
      {sums}
      {sums && added.length > 0 && (
        <Box role="table" sx={styles.account}>
          {added}
        </Box>
      )}
    </>
  );
}

/** Shades of the plan colour, first part palest. */
export function planShade(i: number, n: number): string {
  const share = n > 1 ? i / (n - 1) : 1;
  return `color-mix(in srgb, ${tokens.plan} ${Math.round(48 + 52 * share)}%, ${tokens.sheet})`;
}
