import { Box } from "@mui/material";
import type { AccountTold, Answer } from "../api/types";
import { narrow, tokens, unseen } from "../theme";
import { WhyNumber } from "../why/WhyNumber";

const styles = {
  account: {
    display: "grid",
    gridTemplateColumns: "minmax(110px, max-content) minmax(60px, 1fr) max-content 48px",
    columnGap: 1,
    // What can be pressed is as far apart as a finger needs.
    gridAutoRows: "minmax(25px, auto)",
    alignItems: "center",
    fontSize: 13.5,
  },
  row: { display: "contents" },
  name: { maxWidth: 210, lineHeight: 1.2 },
  feet: { textAlign: "right" },
  doubt: { ...narrow, color: tokens.slate, fontSize: 12.5 },
  line: { gridColumn: "1 / -1", borderTop: `1.5px solid ${tokens.ink}`, alignSelf: "center" },
} as const;

/** Where the height went, from the best possible to what was flown: each step hangs where the last one ended, its doubt as
 * a whisker at its end. It adds up. */
export function WentAccount({ account }: { account: AccountTold }) {
  const { best, flown, steps } = account;
  const bars: { height: Answer; doubt: string; clear: boolean; from: number; to: number; colour: string }[] =
    [];
  let reached = best.value;
  bars.push({ height: best, doubt: "", clear: true, from: 0, to: reached, colour: tokens.best });
  for (const step of steps) {
    const to = reached + step.height.value;
    bars.push({ ...step, from: reached, to, colour: step.height.value > 0 ? tokens.mind : tokens.best });
    reached = to;
  }
  const worst = Math.max(...steps.map((step) => (step.clear ? step.height.value : 0)), 0);
  const most = Math.max(1, ...bars.map((bar) => Math.max(bar.from, bar.to)));
  const share = (ft: number) => `${(ft / most) * 100}%`;
  return (
    <Box role="table" aria-label="Where the height went" sx={styles.account}>
      {bars.map((bar, i) => (
        <Box role="row" key={bar.height.label} sx={styles.row}>
          <Box role="cell" sx={styles.name}>
            {bar.height.label}
          </Box>
          <Box role="presentation" sx={{ position: "relative", height: 16 }}>
            <Box
              sx={{
                position: "absolute",
                top: 1,
                bottom: 1,
                left: share(Math.max(0, Math.min(bar.from, bar.to))),
                width: `max(2px, ${share(Math.abs(bar.to - bar.from))})`,
                bgcolor: i > 0 && worst > 0 && bar.height.value === worst ? tokens.stop : bar.colour,
                opacity: bar.clear ? 1 : 0.5,
              }}
            />
          </Box>
          <Box role="cell" sx={styles.feet}>
            <WhyNumber answer={bar.height} />
          </Box>
          <Box role="cell" sx={styles.doubt}>
            {bar.doubt && `±${bar.doubt.replace(" ft", "")}`}
          </Box>
        </Box>
      ))}
      <Box sx={styles.line} />
      <Box role="row" sx={styles.row}>
        <Box role="cell" sx={{ gridColumn: "1 / 3", fontWeight: 720 }}>
          {flown.label}
        </Box>
        <Box role="cell" sx={styles.feet}>
          <WhyNumber answer={flown} main />
        </Box>
        <Box role="cell">
          <Box component="span" sx={unseen}>
            measured
          </Box>
        </Box>
      </Box>
    </Box>
  );
}
