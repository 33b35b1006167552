import { Box, Button, Typography } from "@mui/material";
import { useState } from "react";
import type { Advice, Attempt } from "../../api/types";
import { LateText } from "../../forms/LateText";
import type { Edits } from "../../notes/entry";
import { tokens } from "../../theme";

const styles = {
  says: { fontSize: 19, fontWeight: 720, lineHeight: 1.2 },
  why: { fontSize: 12.5, color: tokens.slate, lineHeight: 1.3 },
  keys: { display: "flex", flexWrap: "wrap", gap: 0.5, mt: 0.4, "& button": { minWidth: 0, py: 0.2 } },
} as const;

interface Props {
  attempt: Attempt;
  advice: Advice;
  editable: boolean;
  edit: (edits: Edits) => void;
  /** What stands on the student's sheet. */ onSheet: string;
  toSheet: (words: string) => void;
}

/** One thing to say of this figure, as the evidence carries it; the instructor's own words stand in its place. */
export function SayOneThing({ attempt, advice, editable, edit, onSheet, toSheet }: Props) {
  const [editing, setEditing] = useState(false);
  const own = attempt.said ?? "";
  const words = own || advice.says;
  return (
    <Box component="section" aria-label="Say one thing">
      <Typography variant="h2" component="h3">
        Say one thing
      </Typography>
      {editing ? (
        <LateText
          label="In your words"
          multiline
          fullWidth
          autoFocus
          sx={{ mt: 1 }}
          value={words}
          disabled={!editable}
          slotProps={{ htmlInput: { maxLength: 400 } }}
          onValue={(said) => edit({ said: said.trim() || null })}
        />
      ) : (
        <Typography sx={styles.says}>{words}</Typography>
      )}
      <Typography sx={styles.why}>
        {own ? `In your words. Proposed: ${advice.says}` : advice.why.join(" ")}
      </Typography>
      {editable && (
        <Box sx={styles.keys}>
          <Button size="small" onClick={() => setEditing(!editing)}>
            {editing ? "Done" : "In your words"}
          </Button>
          {own && (
            <Button size="small" onClick={() => edit({ said: null })}>
              As proposed
            </Button>
          )}
          {onSheet === words ? (
            <Typography sx={{ ...styles.why, alignSelf: "center" }}>On the student’s sheet</Typography>
          ) : (
            <Button size="small" onClick={() => toSheet(words)}>
              To the student’s sheet
            </Button>
          )}
        </Box>
      )}
    </Box>
  );
}
