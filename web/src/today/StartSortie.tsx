import { identity } from "../api/identity";
import { AGAIN_MS, api, askedAgain } from "../api/client";
import {
  Alert,
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  LinearProgress,
  ListSubheader,
  MenuItem,
  TextField,
  Typography,
} from "@mui/material";
import { keepPreviousData, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useOutletContext } from "react-router";
import {
  askAgain,
  useCatalogue,
  useFleet,
  useInstructors,
  useLessons,
  useStudents,
  useToday,
} from "../api/questions";
import type { Person, Proposed } from "../api/types";
import { dayAndTime } from "../frame/dates";
import { Instructors } from "../forms/Instructors";
import { WhenField } from "../forms/WhenField";
import { Trouble } from "../frame/states";
import { narrow, tokens } from "../theme";
import { VerdictMark } from "../verdict/VerdictMark";
import { Offered } from "./Offered";

const styles = {
  content: {
    display: "grid",
    gridTemplateColumns: { xs: "1fr", md: "320px minmax(0, 1fr)" },
    gap: 3,
    pt: "8px !important",
    minHeight: 330,
  },
  choices: { display: "grid", gap: 2, alignContent: "start" },
  lesson: { fontSize: 22, fontWeight: 760, lineHeight: 1.15 },
  able: { display: "flex", gap: 1, flexWrap: "wrap", mb: 1 },
  finding: { fontSize: 14.5, display: "flex", gap: 1, mb: 0.5 },
} as const;

const NEXT = "next";

interface Props {
  onClose: () => void;
  studentId?: number;
  /** Where it was begun from a place in the week. */ aircraftId?: number;
  instructorId?: number;
  at?: string;
}

/** Three choices: student, lesson, aircraft. The program proposes the rest and says why; or an earlier sortie is copied. */
export default function StartSortie(props: Props) {
  const { onClose } = props;
  const me = useOutletContext<Person>().id;
  const students = useStudents();
  const today = useToday();
  const fleet = useFleet();
  const catalogue = useCatalogue();
  const instructors = useInstructors();
  const [chosen, setChosen] = useState({
    student: props.studentId ?? 0,
    aircraft: props.aircraftId ?? 0,
    instructor: props.instructorId || me,
    lesson: NEXT,
    copy: 0,
    at: props.at ?? "",
  });
  const lessons = useLessons(chosen.student);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const record = api.useQuery(
    "get",
    "/api/students/{student_id}",
    { params: { path: { student_id: chosen.student } } },
    { enabled: chosen.student > 0 },
  );
  const earlier = record.data?.record.slice(0, 12) ?? [];
  const copied = earlier.find((s) => s.id === chosen.copy)?.lesson;
  const known = lessons.data?.some((l) => l.key === copied);
  const ready = chosen.student > 0 && chosen.aircraft > 0;
  const three = {
    student_id: chosen.student,
    aircraft_id: chosen.aircraft,
    instructor_id: chosen.instructor,
    lesson: copied !== undefined ? (known ? copied : "free") : chosen.lesson === NEXT ? null : chosen.lesson,
    planned_for: chosen.at === "" ? null : chosen.at,
  };
  const proposal = api.useQuery(
    "post",
    "/api/sorties/proposal",
    { body: three },
    {
      enabled: ready,
      placeholderData: keepPreviousData,
      retry: askedAgain,
      retryDelay: AGAIN_MS,
      staleTime: 10_000,
    },
  );
  // Pressed twice, or sent twice by a network that stammers: one sortie.
  const [made_as] = useState(identity);
  const [opened] = useState(() => new Date().toISOString());
  const make = api.useMutation("post", "/api/sorties", {
    onSuccess: (sortie) => {
      askAgain(queries, "/api/today", "/api/week");
      void navigate(`/sorties/${sortie.id}/plan`);
      onClose();
    },
  });
  const plan = (found: Proposed) => {
    const { student_id, aircraft_id, instructor_id } = three,
      { planned_for, place_id, lesson } = found;
    const figures = chosen.copy ? { copy_of: chosen.copy } : { plan: found.plan };
    make.mutate({
      body: { made_as, student_id, aircraft_id, instructor_id, planned_for, place_id, lesson, ...figures },
    });
  };
  const found = ready ? proposal.data : undefined;
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md">
      <DialogTitle>Plan a sortie</DialogTitle>
      <DialogContent sx={styles.content}>
        <Box sx={styles.choices}>
          <TextField
            select
            autoFocus
            label="Student"
            value={chosen.student || ""}
            onChange={(e) => setChosen({ ...chosen, student: Number(e.target.value), copy: 0 })}
          >
            {(students.data ?? []).map((s) => (
              <MenuItem key={s.id} value={s.id}>
                {s.name}, {s.stage}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            label="Lesson"
            value={chosen.copy ? `copy ${chosen.copy}` : chosen.lesson}
            onChange={(e) => {
              const copy = /^copy (\d+)$/.exec(e.target.value)?.[1];
              setChosen({ ...chosen, copy: Number(copy ?? 0), lesson: copy ? NEXT : e.target.value });
            }}
          >
            <MenuItem value={NEXT}>The next one for this student</MenuItem>
            {byCourse(lessons.data ?? []).flatMap(([course, of]) => [
              <ListSubheader key={course}>{course || "Without a lesson"}</ListSubheader>,
              ...of.map((l) => (
                <MenuItem key={l.key} value={l.key}>
                  {l.name}
                </MenuItem>
              )),
            ])}
            {earlier.map((s) => (
              <MenuItem key={s.id} value={`copy ${s.id}`}>
                As on {dayAndTime(s.planned_for)}: {s.lesson_name}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            label="Aircraft"
            value={chosen.aircraft || ""}
            onChange={(e) => setChosen({ ...chosen, aircraft: Number(e.target.value) })}
          >
            {(fleet.data ?? []).map((a) => (
              <MenuItem key={a.id} value={a.id}>
                {a.registration} {a.card.name}
              </MenuItem>
            ))}
          </TextField>
          <Instructors
            people={instructors.data}
            value={chosen.instructor}
            onValue={(instructor) => setChosen({ ...chosen, instructor })}
          />
          <WhenField
            label="Day and time"
            now={today.data?.now ?? opened}
            value={chosen.at || (found?.planned_for ?? "")}
            onValue={(at) => setChosen({ ...chosen, at })}
            help={(chosen.at === "" && found?.when) || undefined}
          />
        </Box>
        <Box aria-live="polite">
          {!ready && (
            <Offered
              students={chosen.student === 0 ? (students.data ?? []) : []}
              fleet={fleet.data ?? []}
              onStudent={(student) => setChosen({ ...chosen, student, copy: 0 })}
              onAircraft={(aircraft) => setChosen({ ...chosen, aircraft })}
            />
          )}
          {ready && proposal.isFetching && (
            <Box role="status" sx={{ mb: 1 }}>
              Laying out the figures and computing their heights…
              <LinearProgress aria-label="Computing the proposal" sx={{ mt: 0.5 }} />
            </Box>
          )}
          {proposal.isError && <Trouble error={proposal.error} />}
          {found && (
            <>
              {found.clashes.map((line) => (
                <Alert key={line} severity="warning" sx={{ mb: 1 }}>
                  {line}.
                </Alert>
              ))}
              <Typography sx={styles.lesson}>
                {chosen.copy ? "The same figures again" : found.lesson_name}
              </Typography>
              <Typography sx={{ color: tokens.slate, mb: 1 }}>
                {chosen.copy ? "With its settings; load, day and heights are today's." : found.purpose}
              </Typography>
              {found.able.length > 0 && (
                <Box sx={styles.able}>
                  {found.able.map(({ id, registration }) => (
                    <Button
                      key={id}
                      variant="outlined"
                      onClick={() => setChosen({ ...chosen, aircraft: id })}
                    >
                      Fly all of it in {registration}
                    </Button>
                  ))}
                </Box>
              )}
              {found.before.map(({ title, words, stops }) => (
                <Typography key={title} sx={styles.finding}>
                  <VerdictMark verdict={stops ? "stop" : "mind"} size={15} />
                  <span>
                    <b>{title}.</b> {words}
                  </span>
                </Typography>
              ))}
              {!chosen.copy && (
                <>
                  {found.why.map((line) => (
                    <Typography key={line} sx={styles.finding}>
                      <VerdictMark verdict={found.fits && !found.way_out ? "fine" : "mind"} size={15} />
                      <span>{line}</span>
                    </Typography>
                  ))}
                  <Box
                    component="ol"
                    sx={{
                      ...narrow,
                      m: 0,
                      mt: 1,
                      pl: 3,
                      columns: found.plan.figures.length > 6 ? 2 : 1,
                      fontSize: 14,
                    }}
                  >
                    {found.plan.figures.map((f) => (
                      <li key={f.id}>
                        {names(catalogue.data?.figures, f.key)}
                        {(f.parameters?.turns ?? 1) > 1 ? `, ${f.parameters?.turns} turns` : ""}{" "}
                        {f.start_ft.toLocaleString("en")} ft
                      </li>
                    ))}
                  </Box>
                </>
              )}
            </>
          )}
          {make.isError && <Trouble error={make.error} />}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Not now</Button>
        <Button
          variant="contained"
          disabled={!found || proposal.isFetching || make.isPending}
          onClick={() => found && plan(found)}
        >
          {chosen.copy ? "Copy it" : found?.way_out ? `Plan it ${withWay(found.way_out)}` : "Plan this"}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** Lessons under the courses that they belong to, in their order. */
function byCourse<L extends { course: string }>(lessons: L[]): [course: string, lessons: L[]][] {
  const courses = [...new Set(lessons.map((l) => l.course))];
  return courses.map((course) => [course, lessons.filter((l) => l.course === course)]);
}

/** "with 4 US gal more", "without loop (number 3)". */
function withWay(out: string): string {
  return out.startsWith("without") ? out : `with ${out.charAt(0).toLowerCase()}${out.slice(1)}`;
}

function names(figures: { key: string; name: string }[] | undefined, key: string): string {
  return figures?.find((f) => f.key === key)?.name ?? key;
}
