import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  MenuItem,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { api } from "../api/client";
import { useCourses } from "../api/questions";
import type { Student } from "../api/types";
import { DiffersList } from "../courses/DiffersList";
import { Loading, Trouble } from "../frame/states";
import { narrow, tokens } from "../theme";
import { useAsksAgain } from "./useAsksAgain";

const styles = {
  content: { display: "grid", gap: 2, pt: "8px !important", alignContent: "start" },
  moves: {
    ...narrow,
    fontSize: 14,
    borderCollapse: "collapse",
    "& td, & th": { textAlign: "left", pr: 2, py: 0.3 },
  },
} as const;

const NONE = "none";

/** Which course a student is in: into one, out of one, on to its later version with what that changes. */
export function CourseDialog({ student, onClose }: { student: Student; onClose: () => void }) {
  const { way } = student;
  const courses = useCourses();
  const [to, setTo] = useState(way?.course ?? "");
  const [why, setWhy] = useState("");
  const act = api.useMutation("put", "/api/students/{student_id}/course", useAsksAgain(onClose));
  const changed = to !== (way?.course ?? "");
  const later = way !== null && way.newest > way.version && !changed;
  const store = () =>
    act.mutate({
      params: { path: { student_id: student.id } },
      body: { course: to === NONE ? null : to, why },
    });
  const found = courses.data?.find((c) => c.key === to);
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md" aria-labelledby="course-title">
      <DialogTitle id="course-title">Course of {student.name}</DialogTitle>
      <DialogContent sx={styles.content}>
        {courses.isError && <Trouble error={courses.error} />}
        <TextField
          select
          label="Course"
          value={courses.data ? to : ""}
          onChange={(e) => setTo(e.target.value)}
        >
          {(courses.data ?? []).map((c) => (
            <MenuItem key={c.key} value={c.key}>
              {c.course.name}, version {c.version}
            </MenuItem>
          ))}
          {way && <MenuItem value={NONE}>In none</MenuItem>}
        </TextField>
        {found && <Typography sx={{ color: tokens.slate }}>{found.course.purpose}</Typography>}
        {changed && way && (
          <TextField
            label={`Why ${way.name} ends`}
            value={why}
            onChange={(e) => setWhy(e.target.value)}
            helperText="What was flown counts in every course that asks for it."
            slotProps={{ htmlInput: { maxLength: 300 } }}
          />
        )}
        {later && <LaterVersion student={student} onDone={onClose} />}
        {act.isError && <Trouble error={act.error} />}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Leave it as it is</Button>
        <Button variant="contained" disabled={!changed || to === "" || act.isPending} onClick={store}>
          {to === NONE ? "Take out of the course" : "Put into this course"}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function LaterVersion({ student, onDone }: { student: Student; onDone: () => void }) {
  const path = { student_id: student.id };
  const shown = api.useQuery("get", "/api/students/{student_id}/course/move", { params: { path } });
  const act = api.useMutation("post", "/api/students/{student_id}/course/move", useAsksAgain(onDone));
  if (shown.isPending) return <Loading what="what differs" />;
  if (shown.isError) return <Trouble error={shown.error} again={() => void shown.refetch()} />;
  const { version, differs, tasks } = shown.data;
  return (
    <Box component="section" aria-label="Later version">
      <Typography variant="h2">
        Version {version} is in force; {student.name} is on version {student.way?.version}
      </Typography>
      <DiffersList differs={differs} />
      <Typography sx={{ fontWeight: 650, mt: 1 }}>
        {tasks.length === 0 ? "No task of theirs changes its state." : "For this student:"}
      </Typography>
      {tasks.length > 0 && (
        <Box component="table" sx={styles.moves}>
          <thead>
            <tr>
              <th>Task</th>
              <th>Now</th>
              <th>After</th>
              <th>Needed then</th>
            </tr>
          </thead>
          <tbody>
            {tasks.map((t) => (
              <tr key={t.title}>
                <td>{t.title}</td>
                <td>{t.before ?? "not in it"}</td>
                <td>{t.after ?? "not in it"}</td>
                <td>{t.needed ?? ""}</td>
              </tr>
            ))}
          </tbody>
        </Box>
      )}
      {act.isError && <Trouble error={act.error} />}
      <Button
        variant="outlined"
        sx={{ mt: 1 }}
        disabled={act.isPending}
        onClick={() => act.mutate({ params: { path }, body: { version } })}
      >
        Move on to version {version}
      </Button>
    </Box>
  );
}
