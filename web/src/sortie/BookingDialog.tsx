import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { useInstructors, useToday } from "../api/questions";
import type { Person, Problem } from "../api/types";
import { Leaving } from "../forms/EditorDialog";
import { Instructors } from "../forms/Instructors";
import { WhenField } from "../forms/WhenField";
import { tokens } from "../theme";
import { Past } from "./Past";
import type { Booking, SortieWork } from "./useSortie";
import { Refusals } from "../frame/states";

const styles = {
  content: { display: "grid", gap: 2, pt: "8px !important" },
  two: { display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" } },
} as const;

interface Props {
  work: SortieWork;
  /** Who opens it; an instructor who takes over is chosen already. */ person: Person;
  onClose: () => void;
}

/** When it is flown and with whom, whether at all, and who has changed that. */
export function BookingDialog({ work, person, onClose }: Props) {
  const { sortie } = work;
  const instructors = useInstructors(sortie.may.book || sortie.may.hand_over);
  const now = useToday().data?.now ?? sortie.changed_at;
  const [at, setAt] = useState(sortie.planned_for);
  const offered = sortie.may.save || sortie.may.hand_over ? sortie.instructor_id : person.id;
  const [instructor, setInstructor] = useState(offered);
  const [reason, setReason] = useState("");
  const [problems, setProblems] = useState<Problem[]>([]);
  const [busy, setBusy] = useState(false);
  const changed = at !== sortie.planned_for || instructor !== sortie.instructor_id;
  const [leaving, setLeaving] = useState(false);
  const touched = at !== sortie.planned_for || instructor !== offered || reason.trim() !== "";
  const leave = () => (touched ? setLeaving(true) : onClose());
  const ask = (booking: Booking) => {
    setBusy(true);
    void work.book(booking).then((found) => {
      setBusy(false);
      setProblems(found);
      if (found.length === 0) onClose();
    });
  };
  const store = () => ask({ planned_for: at, instructor_id: instructor });
  return (
    <Dialog open onClose={leave} fullWidth maxWidth="sm" aria-labelledby="booking-title">
      <DialogTitle id="booking-title">Booking of {sortie.lesson_name}</DialogTitle>
      <DialogContent sx={styles.content}>
        <Refusals of={problems} />
        <Typography>
          {sortie.student}, {sortie.aircraft}, {sortie.place}. Another aircraft or place is chosen in Plan.
        </Typography>
        {sortie.may.book && sortie.cancelled === null && (
          <>
            <Box sx={styles.two}>
              <WhenField label="Day and time" now={now} value={at} onValue={setAt} />
              <Instructors people={instructors.data} value={instructor} onValue={setInstructor} />
            </Box>
            <Typography sx={{ color: tokens.slate, fontSize: 14 }}>
              It is briefed again after a change. Another day begins with its own weather, another instructor
              with their weight in the load and without the overrides of the one before.
            </Typography>
            <Box sx={{ display: "flex", gap: 1.5, alignItems: "flex-start" }}>
              <TextField
                size="small"
                fullWidth
                label="Reason to cancel"
                value={reason}
                onChange={(e) => setReason(e.target.value)}
                helperText="A sentence that the student reads too."
              />
              <Button
                color="error"
                disabled={busy || reason.trim() === ""}
                onClick={() => ask({ reason })}
                sx={{ whiteSpace: "nowrap", minHeight: 40 }}
              >
                Cancel the sortie
              </Button>
            </Box>
          </>
        )}
        {sortie.may.hand_over && (
          <>
            <Instructors people={instructors.data} value={instructor} onValue={setInstructor} />
            <Typography sx={{ color: tokens.slate, fontSize: 14 }}>
              Who grades and signs it from now on. What was flown stays as it was, and the change on the
              record.
            </Typography>
          </>
        )}
        <Past sortie={sortie} />
      </DialogContent>
      {leaving ? (
        <Leaving onStay={() => setLeaving(false)} onDrop={onClose} />
      ) : (
        <DialogActions>
          <Button onClick={leave}>{sortie.may.book ? "Leave it as it was" : "Close"}</Button>
          {sortie.may.book && sortie.cancelled !== null && (
            <Button variant="contained" disabled={busy} onClick={() => ask({ reason: null })}>
              Put it back
            </Button>
          )}
          {sortie.may.hand_over && (
            <Button
              variant="contained"
              disabled={busy || instructor === sortie.instructor_id}
              onClick={() => ask({ instructor_id: instructor })}
            >
              Hand it over
            </Button>
          )}
          {sortie.may.book && sortie.cancelled === null && (
            <Button variant="contained" disabled={busy || !changed} onClick={store}>
              {instructor === person.id && sortie.instructor_id !== person.id
                ? "Take it over"
                : "Store the booking"}
            </Button>
          )}
        </DialogActions>
      )}
    </Dialog>
  );
}
