import { Box } from "@mui/material";
import { tokens } from "../theme";

export function Wordmark({ size = 18 }: { size?: number }) {
  return (
    <Box
      component="span"
      sx={{
        fontSize: size,
        fontWeight: 820,
        fontStretch: "115%",
        letterSpacing: "-0.01em",
        color: tokens.ink,
        whiteSpace: "nowrap",
      }}
    >
      Keel
      <Box component="span" sx={{ color: tokens.plan }}>
        Turn
      </Box>
    </Box>
  );
}
