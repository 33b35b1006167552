import { Box, Button, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useState } from "react";
import { Link, useOutletContext, useParams } from "react-router";
import { api } from "../api/client";
import type { Person, Student } from "../api/types";
import { day } from "../frame/dates";
import { Empty, Loading, Trouble } from "../frame/states";
import { useTitle } from "../frame/useTitle";
import { tokens } from "../theme";
import { Requirements } from "../requirements/Requirements";
import { StartSortie } from "../today/starting";
import { FEEL_ENDS } from "../frame/feel";
import { CourseDialog } from "./CourseDialog";
import { Faults } from "./Faults";
import { Ground } from "./Ground";
import { Heights } from "./Heights";
import { NextCard } from "./NextCard";
import { OwnPlaces } from "./OwnPlaces";
import { RecordTable } from "./RecordTable";
import { StandingPanel } from "./StandingPanel";
import { TaskPanel } from "./TaskPanel";
import { WayPicture } from "./WayPicture";

const styles = {
  page: {
    height: "100%",
    display: "grid",
    gridTemplateColumns: { xs: "1fr", md: "minmax(0, 1fr) 372px" },
    overflow: { xs: "auto", md: "hidden" },
  },
  main: {
    p: 2,
    minWidth: 0,
    minHeight: { xs: "auto", md: 0 },
    display: "flex",
    flexDirection: "column",
    gap: 1,
  },
  head: { display: "flex", justifyContent: "space-between", alignItems: "flex-start", gap: 2 },
  line: { color: tokens.slate, fontSize: 14.5 },
  acts: { display: "flex", gap: 1, flexShrink: 0 },
  views: { alignSelf: "flex-start", "& button": { py: 0.2, px: 1.5 } },
  aside: {
    p: 2,
    overflow: "auto",
    borderLeft: { xs: 0, md: `1px solid ${tokens.hairline}` },
    display: "grid",
    gap: 2,
    alignContent: "start",
  },
} as const;

export default function StudentPage() {
  const id = Number(useParams().id);
  const found = api.useQuery("get", "/api/students/{student_id}", { params: { path: { student_id: id } } });
  if (found.isPending) return <Loading what="the record" />;
  if (found.isError) return <Trouble error={found.error} again={() => void found.refetch()} />;
  return <OneStudent key={id} student={found.data} />;
}

type View = "way" | "heights" | "flights" | "required";

function OneStudent({ student }: { student: Student }) {
  useTitle(student.name);
  const person = useOutletContext<Person>();
  const teaches = person.role !== "student";
  const [planning, setPlanning] = useState(false);
  const [enrolling, setEnrolling] = useState(false);
  const [view, setView] = useState<View>("way");
  const { way, next } = student;
  const [chosen, setChosen] = useState(() => firstOf(student));
  const task = way?.tasks.find((t) => t.task === chosen);
  return (
    <Box component="main" sx={styles.page}>
      <Box sx={styles.main}>
        <Box sx={styles.head}>
          <Box>
            <Typography variant="h1">{student.name}</Typography>
            <Typography sx={styles.line}>
              {way ? `${way.name}, version ${way.version}` : "In no course"} · {flown(student)}
              {student.last_feel !== null && ` · felt ${student.last_feel} at the end (${FEEL_ENDS})`}
              {student.goal && ` · ${student.goal}`}
            </Typography>
          </Box>
          {teaches && (
            <Box sx={styles.acts}>
              <Button variant="outlined" onClick={() => setEnrolling(true)}>
                {way ? "Course" : "Put into a course"}
              </Button>
              <Button variant="contained" onClick={() => setPlanning(true)} sx={{ whiteSpace: "nowrap" }}>
                Plan a sortie
              </Button>
            </Box>
          )}
        </Box>
        <ToggleButtonGroup
          exclusive
          size="small"
          value={view}
          onChange={(_, to: View | null) => to && setView(to)}
          aria-label="What is shown"
          sx={styles.views}
        >
          <ToggleButton value="way">The way</ToggleButton>
          <ToggleButton value="heights">Heights</ToggleButton>
          <ToggleButton value="flights">Flights</ToggleButton>
          <ToggleButton value="required">Required</ToggleButton>
        </ToggleButtonGroup>
        {view === "way" &&
          (way ? (
            <WayPicture
              tasks={way.tasks}
              felt={student.felt}
              today={student.now}
              chosen={chosen}
              onChoose={setChosen}
            />
          ) : (
            <Empty>
              In no course yet, so no task has a state.{" "}
              {teaches ? "Put them into one: what was flown so far counts at once." : "Ask your instructor."}
            </Empty>
          ))}
        {view === "heights" && <Heights attempts={student.attempts} own={student.own} first={task?.figure} />}
        {view === "flights" && <RecordTable record={student.record} attempts={student.attempts} />}
        {view === "required" && <Requirements person={student.person_id} />}
      </Box>
      <Box sx={styles.aside}>
        {next && <NextCard next={next} />}
        {view === "way" && task && <TaskPanel task={task} />}
        {view === "heights" && <OwnPlaces own={student.own} />}
        {student.said && <Said said={student.said} />}
        <Faults trends={student.trends} />
        <StandingPanel student={student} chief={person.role === "chief"} />
        {way && <Ground student={student} way={way} teaches={teaches} />}
      </Box>
      {planning && <StartSortie studentId={student.id} onClose={() => setPlanning(false)} />}
      {enrolling && <CourseDialog student={student} onClose={() => setEnrolling(false)} />}
    </Box>
  );
}

/** What was said at the end of the last flight. */
function Said({ said }: { said: NonNullable<Student["said"]> }) {
  return (
    <Box component="section" aria-label="Said last time">
      <Typography variant="h2">Said last time</Typography>
      {said.one_thing && <Typography sx={{ fontWeight: 650 }}>{said.one_thing}</Typography>}
      <Typography sx={styles.line}>
        {said.next && `Next: ${said.next}. `}
        {said.by},{" "}
        <Link to={`/sorties/${said.sortie_id}`} style={{ color: tokens.plan }}>
          {day(said.at)}
        </Link>
      </Typography>
    </Box>
  );
}

function flown(student: Student): string {
  const count = student.sorties === 1 ? "1 sortie" : `${student.sorties} sorties`;
  return student.last_flew ? `${count}, last ${day(student.last_flew)}` : `${count} flown`;
}

/** The first task that is begun and not yet as the course needs it; the first of all where there is none. */
function firstOf(student: Student): string {
  const tasks = student.way?.tasks ?? [];
  const open = tasks.filter((t) => !t.met);
  return (open.find((t) => t.marks.length > 0) ?? open[0] ?? tasks[0])?.task ?? "";
}
