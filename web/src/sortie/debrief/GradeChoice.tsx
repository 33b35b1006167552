import { Box, Button, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useState } from "react";
import type { Attempt, Catalogue, Proposal } from "../../api/types";
import { LateText } from "../../forms/LateText";
import { Key } from "../../frame/Key";
import type { CommandName } from "../../frame/commands";
import type { Edits } from "../../notes/entry";
import { narrow, tokens } from "../../theme";

const styles = {
  decide: { fontSize: 22, fontWeight: 740, lineHeight: 1.15 },
  says: { fontSize: 13.5, lineHeight: 1.3, mb: 0.8 },
  grade: { px: 0.3, fontSize: 13, lineHeight: 1.1 },
  table: {
    ...narrow,
    width: "100%",
    fontSize: 12.5,
    borderCollapse: "collapse",
    "& th": { textAlign: "left", fontWeight: 400 },
    "& td, & thead th + th": { textAlign: "right", pl: 0.6, whiteSpace: "nowrap" },
    "& thead": { color: tokens.slate },
  },
  not: { fontSize: 12.5, color: tokens.slate, lineHeight: 1.3, mt: 0.5 },
} as const;

export type Grade = NonNullable<Attempt["grade"]>;
export const GRADES: [Grade, CommandName][] = [
  ["Shown", "gradeShown"],
  ["Not yet", "gradeNotYet"],
  ["Guided", "gradeGuided"],
  ["Sound", "gradeSound"],
  ["Solo-ready", "gradeSoloReady"],
];

/** The grades that a way of flying can earn, and the one that is set; all of them until the catalogue is there. */
export function gradesFor(attempt: Attempt, catalogue: Catalogue | undefined) {
  const earned = catalogue?.earned[attempt.flown_by];
  return GRADES.filter(([grade]) => !earned || earned.includes(grade) || attempt.grade === grade);
}

interface Props {
  attempt: Attempt;
  catalogue: Catalogue | undefined;
  proposal: Proposal | null;
  editable: boolean;
  edit: (edits: Edits) => void;
}

/** The grade that the school's standard comes to, with its reasons, and the instructor's own, which counts. */
export function GradeChoice({ attempt, catalogue, proposal, editable, edit }: Props) {
  const [open, setOpen] = useState(false);
  const grades = gradesFor(attempt, catalogue);
  const proposed = proposal?.grade ?? null;
  const taken = attempt.taken_over_ft != null;
  const above = attempt.grade === "Sound" || attempt.grade === "Solo-ready";
  const lacking = taken && above && !attempt.grade_reason;
  const counts = proposal?.counts ?? null;
  const otherwise = attempt.grade != null && counts !== null && attempt.grade !== counts;
  return (
    <Box component="section" aria-label="Grade">
      <Typography sx={styles.decide}>
        {attempt.grade ?? (proposed ? `Proposed: ${proposed}` : "Which grade?")}
      </Typography>
      {proposal && (
        <Typography sx={styles.says}>
          {attempt.grade && proposed && attempt.grade !== proposed && <b>Proposed {proposed}. </b>}
          {proposal.says}{" "}
          <Button
            size="small"
            aria-expanded={open}
            onClick={() => setOpen(!open)}
            sx={{ p: 0, minWidth: 0, verticalAlign: "baseline" }}
          >
            {open ? "Less" : "By what"}
          </Button>
        </Typography>
      )}
      {open && proposal && <Criteria proposal={proposal} />}
      <ToggleButtonGroup
        // One of them is a stop of Tab: with other grades it is chosen anew.
        key={grades.join()}
        exclusive
        fullWidth
        value={attempt.grade ?? null}
        disabled={!editable}
        aria-label="Grade"
        onChange={(_, grade: Grade | null) => edit({ grade })}
      >
        {grades.map(([grade, command]) => (
          <ToggleButton key={grade} value={grade} sx={styles.grade}>
            {grade}
            <Key of={command} pale={attempt.grade === grade} />
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      {lacking || otherwise || attempt.grade_reason ? (
        <LateText
          key={`reason ${attempt.id}`}
          label={taken ? "Taken over: why this grade" : "Why this grade"}
          fullWidth
          sx={{ mt: 1 }}
          value={attempt.grade_reason ?? ""}
          error={lacking}
          helperText={
            lacking
              ? "Above Guided a take-over needs a reason before the debrief is done."
              : otherwise && !attempt.grade_reason
                ? `Without a reason ${counts} counts in progress, by the school's standard.`
                : undefined
          }
          disabled={!editable}
          slotProps={{ htmlInput: { maxLength: 300 } }}
          onValue={(grade_reason) => edit({ grade_reason: grade_reason.trim() || null })}
        />
      ) : null}
    </Box>
  );
}

/** Everything that was looked at, beside what each grade asks. */
function Criteria({ proposal }: { proposal: Proposal }) {
  const grades = ["Guided", "Sound", "Solo-ready"] as const;
  return (
    <Box sx={{ mb: 1 }}>
      <Box component="table" sx={styles.table}>
        <thead>
          <tr>
            <th scope="col">At most</th>
            <th scope="col">flown</th>
            {grades.map((grade) => (
              <th key={grade} scope="col">
                {grade}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {proposal.criteria.map((one) => (
            <tr key={one.measure}>
              <th scope="row" style={{ whiteSpace: "normal" }}>
                {one.label}
              </th>
              <td>
                <b>{one.value}</b>
              </td>
              {grades.map((grade) => (
                <td key={grade}>{one.limits[grade] ?? "–"}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </Box>
      {proposal.caps.map((cap) => (
        <Typography key={cap.words} sx={styles.not}>
          No higher than {cap.grade}: {cap.words}
        </Typography>
      ))}
      {proposal.not_looked_at.length > 0 && (
        <Typography sx={styles.not}>
          Not looked at: {proposal.not_looked_at.map((one) => `${one.label} (${one.needs})`).join("; ")}.
        </Typography>
      )}
    </Box>
  );
}
