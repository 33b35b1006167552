import { Box, Typography } from "@mui/material";
import type { PlanAnswer } from "../../api/types";
import { tokens } from "../../theme";
import { inFull } from "../../verdict/ChecksColumn";
import { VerdictMark } from "../../verdict/VerdictMark";

const styles = {
  line: { display: "flex", gap: 1, py: 0.5, fontSize: 13, lineHeight: 1.35, overflowWrap: "anywhere" },
} as const;

/** What should come before this lesson and has not; nothing where all of it has. That the brief is not read stands
 * below, where it stops nothing. */
export function BeforeLesson({ answer }: { answer: PlanAnswer }) {
  const missing = answer.checks.filter(
    (check) => check.kind === "before" && !(check.id === "before_brief" && check.verdict === "mind"),
  );
  if (missing.length === 0) return null;
  return (
    <Box component="section" aria-label="Missing before this lesson" sx={{ mb: 1.5 }}>
      <Typography variant="h2">Missing before this lesson</Typography>
      {missing.map((check) => (
        <Box key={check.id} sx={styles.line}>
          <VerdictMark verdict={check.overridden ? "overridden" : check.verdict} size={15} />
          <span>
            <b>{check.title}.</b> {inFull(check)}
            {check.overridden && (
              <Box component="span" sx={{ color: tokens.stop }}>
                {" "}
                Overridden. {check.overridden}
              </Box>
            )}
          </span>
        </Box>
      ))}
    </Box>
  );
}
