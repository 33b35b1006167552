import { Box, Typography } from "@mui/material";
import type { ReactNode } from "react";
import { Wordmark } from "../frame/Wordmark";
import { tokens } from "../theme";

const styles = {
  page: {
    height: "100vh",
    overflow: "auto",
    display: "grid",
    gridTemplateColumns: { xs: "1fr", md: "1fr 1fr" },
    gridTemplateRows: "minmax(0, 1fr)",
  },
  door: {
    p: { xs: 3, md: 8 },
    minHeight: 0,
    display: "flex",
    flexDirection: "column",
    justifyContent: "center",
    alignItems: "flex-start",
    gap: 3,
  },
  picture: {
    display: { xs: "none", md: "block" },
    minHeight: 0,
    bgcolor: tokens.sky,
    borderLeft: `1px solid ${tokens.hairline}`,
  },
} as const;

/** What somebody meets who is not in yet: the name, a sentence, what to fill in, and the caution. */
export function Doorway({ words, children }: { words: string; children: ReactNode }) {
  return (
    <Box component="main" sx={styles.page}>
      <Box sx={styles.door}>
        <Box component="h1" sx={{ m: 0, lineHeight: 1 }}>
          <Wordmark size={34} />
        </Box>
        <Typography sx={{ fontSize: 19, maxWidth: 420 }}>{words}</Typography>
        {children}
        <Typography variant="body2" sx={{ color: tokens.slate, maxWidth: 420 }}>
          A training aid. The flight manual, the rules where you fly and your instructor come before anything
          shown here.
        </Typography>
      </Box>
      <Box sx={styles.picture} aria-hidden>
        <svg width="100%" height="100%" viewBox="0 0 600 800" preserveAspectRatio="xMidYMax slice">
          <rect y="560" width="600" height="170" fill={tokens.stopPale} />
          <path d="M0 560H600" stroke={tokens.stop} strokeWidth="4" />
          <rect y="500" width="600" height="60" fill={tokens.mindPale} />
          <rect y="730" width="600" height="70" fill={tokens.earth} />
          <path
            d="M0 470 110 300M160 470 300 210M380 420 500 180"
            stroke={tokens.plan}
            strokeWidth="2"
            opacity=".6"
          />
          <path
            d="M110 300c30 0 20 170 50 170M300 210c40 0 30 210 80 210M500 180c40 0 30 250 90 250"
            fill="none"
            stroke={tokens.plan}
            strokeWidth="12"
            strokeLinecap="round"
          />
        </svg>
      </Box>
    </Box>
  );
}
