import { Box, Paper, Typography } from "@mui/material";
import type { SchoolSeen } from "../api/types";
import { narrow, tokens, unseen } from "../theme";

const styles = {
  sheet: {
    border: `1px solid ${tokens.hairline}`,
    p: 1.5,
    overflow: { xs: "visible", md: "auto" },
    mb: { xs: 2, md: 0 },
  },
  row: {
    display: "grid",
    gridTemplateColumns: { xs: "minmax(0, 1fr)", sm: "178px minmax(0, 1fr) 208px" },
    columnGap: 1.5,
    alignItems: "center",
    py: 0.45,
    borderTop: `1px solid ${tokens.hairline}`,
  },
  name: { fontSize: 15, fontWeight: 650, lineHeight: 1.2 },
  small: { ...narrow, fontSize: 13, color: tokens.slate, lineHeight: 1.25 },
  scale: { ...narrow, fontSize: 12.5, color: tokens.slate, display: "flex", justifyContent: "space-between" },
  track: { position: "relative", height: 20, bgcolor: tokens.sky },
} as const;

type Cost = SchoolSeen["costs"][number];

/** Each figure against its brief: how far in the mean, and how sure that is. What costs the school most stands first. */
export function FigureCosts({ costs }: { costs: SchoolSeen["costs"] }) {
  const known = costs.filter((c) => c.least_ft !== null);
  const few = costs.filter((c) => c.least_ft === null);
  const most = Math.max(60, ...known.flatMap((c) => [Math.abs(c.least_ft ?? 0), Math.abs(c.most_ft ?? 0)]));
  const share = (ft: number) => 50 + (Math.max(-most, Math.min(most, ft)) / most) * 48;
  return (
    <Paper component="section" aria-label="Against the brief" sx={styles.sheet}>
      <Typography variant="h2">What the briefs got wrong</Typography>
      <Typography sx={{ ...styles.small, mb: 0.8 }}>
        Height beyond the brief: the mean and where it lies 9 times in 10;{" "}
        <b style={{ color: tokens.flown }}>violet</b> where the brief is wrong about it.
      </Typography>
      {known.length > 0 && (
        <Box aria-hidden sx={{ ...styles.row, borderTop: 0, py: 0 }}>
          <Box sx={{ gridColumn: { sm: 2 }, ...styles.scale }}>
            <span>{feet(-most)}</span>
            <span>brief</span>
            <span>{feet(most)}</span>
          </Box>
        </Box>
      )}
      {known.map((c) => (
        <Box key={c.figure} sx={styles.row}>
          <Box>
            <Typography sx={styles.name}>{c.name}</Typography>
            <Box sx={styles.small}>
              {c.attempts} flown, {feet(c.all_ft)} in all
            </Box>
          </Box>
          <Track cost={c} share={share} />
          <Box sx={styles.small}>{c.words}</Box>
        </Box>
      ))}
      {few.length > 0 && (
        <Typography sx={{ ...styles.small, mt: 1 }}>
          Too few flown, or by too few students, to tell:{" "}
          {few.map((c) => `${c.name} ${c.attempts}`).join(", ")}.
        </Typography>
      )}
    </Paper>
  );
}

function Track({ cost, share }: { cost: Cost; share: (ft: number) => number }) {
  const [least, most] = [cost.least_ft ?? 0, cost.most_ft ?? 0];
  const colour = cost.sure ? tokens.flown : tokens.slate;
  const mark = (left: number, width: number, top: number, bgcolor: string) => (
    <Box
      sx={{ position: "absolute", left: `${left}%`, width: `max(2px, ${width}%)`, top, bottom: top, bgcolor }}
    />
  );
  return (
    <Box sx={styles.track}>
      {mark(share(least), share(most) - share(least), 6, cost.sure ? tokens.flownPale : tokens.planPale)}
      {mark(share(cost.beyond_ft) - 0.6, 1.2, 3, colour)}
      {mark(49.85, 0.3, 0, tokens.plan)}
      <Box sx={unseen}>{`${feet(cost.beyond_ft)} in the mean, between ${feet(least)} and ${feet(most)}`}</Box>
    </Box>
  );
}

function feet(value: number): string {
  return `${value > 0 ? "+" : value < 0 ? "−" : ""}${Math.abs(value).toLocaleString("en")} ft`;
}
