import { Box } from "@mui/material";
import { tokens } from "../theme";

/** A shortcut, shown on the control it serves. */
export function Key({ children, pale = false }: { children: string; pale?: boolean }) {
  return (
    <Box
      component="kbd"
      sx={{
        font: "inherit",
        fontSize: 12,
        fontWeight: 600,
        ml: 0.75,
        px: 0.6,
        borderRadius: "3px",
        border: `1px solid ${pale ? "currentColor" : tokens.hairline}`,
        color: pale ? "inherit" : tokens.slate,
        lineHeight: 1.5,
        display: "inline-block",
      }}
    >
      {children}
    </Box>
  );
}
