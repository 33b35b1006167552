import { Box, Button, Typography } from "@mui/material";
import type { Attempt } from "../../api/types";
import type { Edits } from "../../notes/entry";
import { LABELS, shown } from "../../notes/words";
import { tokens } from "../../theme";
import { VerdictMark } from "../../verdict/VerdictMark";

const styles = {
  line: { display: "flex", gap: 0.8, alignItems: "center", fontSize: 14, lineHeight: 1.25 },
} as const;

interface Props {
  attempt: Attempt;
  editable: boolean;
  edit: (edits: Edits) => void;
}

/** What stands beside the numbers that count: stops that came up in flight, and what another person, device or the
 * recorder noted where it differs. Either of the two can be taken. */
export function Beside({ attempt, editable, edit }: Props) {
  if (attempt.stops.length === 0 && attempt.otherwise.length === 0) return null;
  return (
    <Box component="section" aria-label="Beside it" sx={{ display: "grid", gap: 0.6 }}>
      {attempt.stops.map((stop) => (
        <Typography key={stop.kind} sx={styles.line}>
          <VerdictMark verdict="stop" size={15} />
          Stop in flight: {stop.kind}, {stop.value.toLocaleString("en")}
        </Typography>
      ))}
      {attempt.otherwise.map((other) => (
        <Box key={`${other.what} ${other.about} ${String(other.value)}`} sx={styles.line}>
          <Box component="span" sx={{ color: tokens.mindInk, flex: 1 }}>
            {LABELS[other.what] ?? other.about}: {shown(other.value)} noted by{" "}
            {other.recorder ? "the recorder" : other.by || "another device"}
          </Box>
          {LABELS[other.what] !== undefined && (
            <Button size="small" disabled={!editable} onClick={() => edit({ [other.what]: other.value })}>
              Take it
            </Button>
          )}
        </Box>
      ))}
    </Box>
  );
}
