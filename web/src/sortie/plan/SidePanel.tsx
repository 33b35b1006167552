import { Box, Typography } from "@mui/material";
import { memo } from "react";
import { inOneLine, Failed } from "../../api/client";
import type { CloserLook, FigureAnswer, PlanAnswer } from "../../api/types";
import { SideView } from "../../charts/SideView";
import { SpeedAndG } from "../../charts/SpeedAndG";
import { narrow, tokens } from "../../theme";
import { VerdictMark } from "../../verdict/VerdictMark";
import { WhyNumber } from "../../why/WhyNumber";

const styles = {
  columns: {
    display: "grid",
    gridTemplateColumns: "minmax(0, 1fr)",

    "@container (min-width: 640px)": {
      gridTemplateColumns: "minmax(0, 1.55fr) minmax(0, 0.8fr) minmax(0, 0.95fr)",
    },
    gap: 1.5,
  },
  costs: { display: "flex", justifyContent: "space-between", gap: 1, alignItems: "baseline" },
} as const;

interface Props {
  figure: FigureAnswer;
  look: CloserLook | null;
  failed: unknown;
  answer: PlanAnswer;
}

/** The figure to scale, its speed and g, and what it would cost if it went otherwise. */
export const SidePanel = memo(function SidePanel({ figure, look, failed, answer }: Props) {
  if (failed instanceof Failed)
    return (
      <Typography role="alert" sx={{ color: tokens.stop }}>
        {failed.problems.map(inOneLine).join(" ")}
      </Typography>
    );
  if (!look)
    return (
      <Typography role="status" sx={{ color: tokens.slate }}>
        Flying it…
      </Typography>
    );
  return (
    <Box sx={styles.columns}>
      <SideView
        side={look.side}
        title={figure.title}
        unit={answer.envelope.speed_unit}
        height={268}
        lines={[
          {
            words: `Start ${figure.start.shown}`,
            feet: figure.start.value,
            colour: tokens.plan,
            dashed: true,
          },
          {
            words: `19 times in 20 ${figure.lowest_point.shown}`,
            feet: figure.lowest_point.value,
            colour: tokens.slate,
          },
          { words: `Floor ${figure.floor.shown}`, feet: figure.floor.value, colour: tokens.stop },
        ]}
      />
      <Box>
        <Typography variant="h2" component="h3">
          Speed and g
        </Typography>
        <SpeedAndG figure={figure} answer={answer} />
      </Box>
      <WhatIfs look={look} />
    </Box>
  );
});

/** One change at a time, the height it costs, and what it would break. */
export function WhatIfs({ look }: { look: CloserLook }) {
  return (
    <Box>
      <Typography variant="h2" component="h3">
        What if
      </Typography>
      {look.what_ifs.length === 0 && (
        <Typography sx={{ fontSize: 13.5, color: tokens.slate }}>
          No one change costs this figure height.
        </Typography>
      )}
      {look.what_ifs.map((w) => (
        <Box key={w.key} sx={{ py: 0.6, borderBottom: `1px solid ${tokens.hairline}` }}>
          <Box sx={styles.costs}>
            <span>{w.words}</span>
            <WhyNumber
              answer={w.more}
              text={w.said}
              sx={{ fontSize: 16, whiteSpace: "nowrap", color: w.broken ? tokens.stop : tokens.ink }}
            />
          </Box>
          <Box
            sx={{
              ...narrow,
              fontSize: 12.5,
              color: w.broken ? tokens.stop : tokens.slate,
              display: "flex",
              gap: 0.6,
              alignItems: "center",
            }}
          >
            {w.broken && <VerdictMark verdict="stop" size={13} />}
            <span>
              {w.lost.value > 5 ? (
                <>
                  down to <WhyNumber answer={w.lowest} />
                </>
              ) : (
                <>
                  up to <WhyNumber answer={w.highest} />
                </>
              )}
              {w.broken && `: ${w.broken}`}
            </span>
          </Box>
        </Box>
      ))}
    </Box>
  );
}
