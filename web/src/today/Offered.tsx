import { Box, Button, Typography } from "@mui/material";
import type { Aircraft, StudentLine } from "../api/types";
import { day } from "../frame/dates";
import { tokens } from "../theme";
import { VerdictMark } from "../verdict/VerdictMark";

const styles = {
  one: {
    display: "flex",
    gap: 1.2,
    justifyContent: "flex-start",
    alignItems: "flex-start",
    width: "100%",
    textAlign: "left",
    color: tokens.ink,
    borderBottom: `1px solid ${tokens.hairline}`,
    borderRadius: 0,
    px: 0.5,
    py: 0.9,
    fontWeight: 400,
  },
  more: { display: "block", fontSize: 13.5, color: tokens.slate },
} as const;

interface Props {
  /** To choose among; none once one is chosen. */ students: StudentLine[];
  fleet: Aircraft[];
  onStudent: (id: number) => void;
  onAircraft: (id: number) => void;
}

/** What there is to choose, with what speaks for it: who is due first; then what may be flown. */
export function Offered({ students, fleet, onStudent, onAircraft }: Props) {
  return students.length > 0 ? (
    <>
      <Typography variant="h2">Choose a student: who is due comes first</Typography>
      {students.map((s) => (
        <Button key={s.id} onClick={() => onStudent(s.id)} sx={styles.one}>
          <VerdictMark verdict={s.is_due ? "mind" : "fine"} size={16} />
          <Box component="span">
            <b>{s.name}</b> {s.why_due}
            {s.booked && `, booked ${day(s.booked)}`}
            <Box component="span" sx={styles.more}>
              {s.next_lesson ? `Next: ${s.next_lesson}` : "In no course yet"}
            </Box>
          </Box>
        </Button>
      ))}
    </>
  ) : (
    <>
      <Typography variant="h2">Choose an aircraft: lesson, place and heights follow</Typography>
      {fleet.map((a) => (
        <Button key={a.id} onClick={() => onAircraft(a.id)} sx={styles.one}>
          <Box component="span">
            <b>{a.registration}</b> {a.card.name}
            {a.card.spin?.approved ? "" : ", spins not approved"}
            <Box component="span" sx={styles.more}>
              {Object.keys(a.card.approved).length} figures approved
              {a.parachutes_packed_on && `, parachutes packed ${day(a.parachutes_packed_on)}`}
            </Box>
          </Box>
        </Button>
      ))}
    </>
  );
}
