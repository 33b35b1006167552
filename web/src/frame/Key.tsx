import { Box } from "@mui/material";
import { tokens, TOUCH } from "../theme";
import { COMMANDS, type CommandName } from "./commands";

/** The key of a command, shown on the control it serves, where there are keys. */
export function Key({ of, pale = false }: { of: CommandName; pale?: boolean }) {
  return (
    <Box component="span" sx={{ [TOUCH]: { display: "none" } }}>
      <Cap pale={pale}>{COMMANDS[of].shown}</Cap>
    </Box>
  );
}

const CAP = {
  font: "inherit",
  fontSize: 12,
  fontWeight: 600,
  ml: 0.75,
  px: 0.6,
  borderRadius: "3px",
  lineHeight: 1.5,
  display: "inline-block",
};

/** A key as it stands on the keyboard. */
export function Cap({ children, pale = false }: { children: string; pale?: boolean }) {
  const colours = {
    border: `1px solid ${pale ? "currentColor" : tokens.hairline}`,
    color: pale ? "inherit" : tokens.slate,
  };
  return (
    <Box component="kbd" sx={{ ...CAP, ...colours }}>
      {children}
    </Box>
  );
}
