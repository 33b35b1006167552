import { Box, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useState } from "react";
import type { Attempt, Catalogue, Sortie } from "../../api/types";
import { LateText } from "../../forms/LateText";
import type { Edits } from "../../notes/entry";
import { tokens } from "../../theme";
import { gradesFor, type Grade } from "./GradeChoice";

const styles = {
  whole: { bgcolor: tokens.sheet, border: `1px solid ${tokens.hairline}`, borderRadius: 1, p: 1 },
  who: { fontSize: 12.5, color: tokens.slate, lineHeight: 1.3 },
  said: { fontSize: 14.5, lineHeight: 1.25 },
  grade: { px: 0.3, py: 0.4, fontSize: 12.5, lineHeight: 1.1 },
} as const;

interface Props {
  attempt: Attempt;
  catalogue: Catalogue | undefined;
  student: string;
  may: Sortie["may"];
  /** The debrief is done. */ done: boolean;
  edit: (edits: Edits) => void;
}

/** How the student saw it, asked first. The instructor sees it when they have graded, the student what the instructor
 * says when the debrief is done: neither speaks after the other. */
export function OwnView({ attempt, catalogue, student, may, done, edit }: Props) {
  const [asking, setAsking] = useState(false);
  const grades = gradesFor(attempt, catalogue);
  const given = attempt.own_grade != null || Boolean(attempt.surprise);
  const opened = attempt.grade != null || done || !may.grade;
  if (attempt.skipped || (!may.own_view && !may.grade && !given)) return null;
  const say = (edits: Edits) => {
    setAsking(true);
    edit(edits);
  };
  if (given && !opened && !asking)
    return (
      <Box component="section" aria-label="Student's own view" sx={styles.whole}>
        <Typography sx={styles.who}>
          {student} has said how it was. It is shown when you have graded.
        </Typography>
      </Box>
    );
  if (given && !may.own_view && (opened || !asking))
    return (
      <Box component="section" aria-label="Student's own view" sx={styles.whole}>
        <Typography sx={styles.who}>{student}, before we talked</Typography>
        <Typography sx={styles.said}>
          {attempt.own_grade && <b>{attempt.own_grade}. </b>}
          {attempt.surprise && `“${attempt.surprise}”`}
        </Typography>
      </Box>
    );
  return (
    <Box component="section" aria-label="Student's own view" sx={styles.whole}>
      <Typography sx={{ ...styles.who, mb: 0.6 }}>
        {may.own_view ? "Your own view, before we talk" : `First ask ${student}`}
      </Typography>
      <LateText
        label="What surprised most"
        fullWidth
        size="small"
        value={attempt.surprise ?? ""}
        slotProps={{ htmlInput: { maxLength: 300 } }}
        onValue={(surprise) => say({ surprise: surprise.trim() || null })}
      />
      <ToggleButtonGroup
        // One of them is a stop of Tab: with other grades it is chosen anew.
        key={grades.join()}
        exclusive
        fullWidth
        size="small"
        sx={{ mt: 0.8 }}
        value={attempt.own_grade ?? null}
        aria-label="Own grade"
        onChange={(_, own_grade: Grade | null) => say({ own_grade })}
      >
        {grades.map(([grade]) => (
          <ToggleButton key={grade} value={grade} sx={styles.grade}>
            {grade}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
    </Box>
  );
}
