import { Box, Button, MenuItem, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { useCatalogue } from "../api/questions";
import type { CourseDocument, CourseLesson, Figure } from "../api/types";
import type { PartProps } from "./CourseEditor";
import { EditList } from "./EditList";
import { moved, nameInFiles, newLesson, put, without } from "./edit";
import { Several, titleOf } from "./TasksEditor";

const styles = {
  halves: { display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", md: "290px minmax(0, 1fr)" } },
  fields: {
    display: "grid",
    gap: 1.4,
    gridTemplateColumns: { xs: "1fr", md: "1fr 1fr" },
    alignContent: "start",
  },
  wide: { gridColumn: "1 / -1" },
  row: {
    gridColumn: "1 / -1",
    display: "grid",
    gap: 1,
    gridTemplateColumns: { xs: "1fr", md: "minmax(0, 5fr) 96px minmax(0, 5fr) auto" },
    alignItems: "center",
  },
} as const;

type Flown = CourseLesson["tasks"][number];
type Side = Flown["side"];

export function LessonsEditor({ course, onCourse }: PartProps) {
  const [at, setAt] = useState(0);
  const lesson = course.lessons[at];
  const set = (lessons: CourseLesson[]) => onCourse({ ...course, lessons });
  const add = () => {
    // The names of lessons are the whole school's: the course stands in front.
    const taken = course.lessons.map((l) => l.key);
    const key = nameInFiles(`${course.key || course.name} lesson`, taken);
    set([...course.lessons, newLesson(key)]);
    setAt(course.lessons.length);
  };
  return (
    <Box sx={styles.halves}>
      <EditList
        label="Lessons"
        what="lesson"
        titles={course.lessons.map((l) => l.name)}
        chosen={at}
        onChoose={setAt}
        onAdd={add}
        onRemove={(i) => {
          set(without(course.lessons, i));
          setAt(Math.max(0, i - 1));
        }}
        onMove={(i, by) => {
          set(moved(course.lessons, i, by));
          setAt(i + by);
        }}
      />
      {lesson && (
        <LessonFields
          key={lesson.key}
          course={course}
          lesson={lesson}
          onLesson={(edit) => set(put(course.lessons, at, { ...lesson, ...edit }))}
        />
      )}
    </Box>
  );
}

interface FieldsProps {
  course: CourseDocument;
  lesson: CourseLesson;
  onLesson: (edit: Partial<CourseLesson>) => void;
}

function LessonFields({ course, lesson, onLesson }: FieldsProps) {
  const { figures = [], standings = [] } = useCatalogue().data ?? {};
  const first = course.tasks[0];
  const flownIn = (task: string): Flown => {
    return { task, side: sidesOf(course, task, figures)[0], flown_by: "student with talk" };
  };
  return (
    <Box sx={styles.fields}>
      <TextField
        label="Name"
        value={lesson.name}
        onChange={(e) => onLesson({ name: e.target.value })}
        slotProps={{ htmlInput: { maxLength: 80 } }}
      />
      <TextField
        select
        label="From the standing"
        value={lesson.standing}
        onChange={(e) => onLesson({ standing: e.target.value as CourseLesson["standing"] })}
      >
        {standings.map((standing) => (
          <MenuItem key={standing} value={standing}>
            {standing}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        label="Purpose"
        value={lesson.purpose}
        onChange={(e) => onLesson({ purpose: e.target.value })}
        sx={styles.wide}
        slotProps={{ htmlInput: { maxLength: 400 } }}
      />
      <Several
        label="On the ground before it"
        options={course.ground.map((g) => [g.key, g.words])}
        value={lesson.ground}
        onValue={(ground) => onLesson({ ground })}
      />
      <Typography sx={{ ...styles.wide, fontWeight: 650 }}>Figures, in order</Typography>
      {lesson.tasks.map((flown, i) => (
        <FlownRow
          key={i}
          number={i + 1}
          flown={flown}
          course={course}
          figures={figures}
          onFlown={(edit) => onLesson({ tasks: put(lesson.tasks, i, { ...flown, ...edit }) })}
          onMove={(by) => onLesson({ tasks: moved(lesson.tasks, i, by) })}
          onRemove={() => onLesson({ tasks: without(lesson.tasks, i) })}
        />
      ))}
      <Button
        disabled={!first}
        sx={{ justifySelf: "start" }}
        onClick={() => first && onLesson({ tasks: [...lesson.tasks, flownIn(first.key)] })}
      >
        Add a figure
      </Button>
    </Box>
  );
}

interface RowProps {
  number: number;
  flown: Flown;
  course: CourseDocument;
  figures: readonly Figure[];
  onFlown: (edit: Partial<Flown>) => void;
  onMove: (by: 1 | -1) => void;
  onRemove: () => void;
}

function FlownRow({ number, flown, course, figures, onFlown, onMove, onRemove }: RowProps) {
  const flownBy = useCatalogue().data?.flown_by ?? [];
  const sides = sidesOf(course, flown.task, figures);
  return (
    <Box role="group" aria-label={`Figure ${number}`} sx={styles.row}>
      <TextField
        select
        size="small"
        label={`Figure ${number}`}
        value={flown.task}
        onChange={(e) => onFlown({ task: e.target.value, side: sidesOf(course, e.target.value, figures)[0] })}
      >
        {course.tasks.map((t) => (
          <MenuItem key={t.key} value={t.key}>
            {titleOf(t, figures)}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        select
        size="small"
        label="Side"
        disabled={sides.length === 1}
        value={flown.side}
        onChange={(e) => onFlown({ side: e.target.value as Flown["side"] })}
      >
        {sides.map((side) => (
          <MenuItem key={side} value={side}>
            {side}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        select
        size="small"
        label="Who flies"
        value={flown.flown_by}
        onChange={(e) => onFlown({ flown_by: e.target.value as Flown["flown_by"] })}
      >
        {flownBy.map((who) => (
          <MenuItem key={who} value={who}>
            {who}
          </MenuItem>
        ))}
      </TextField>
      <Box sx={{ whiteSpace: "nowrap" }}>
        <Button size="small" aria-label={`Figure ${number} earlier`} onClick={() => onMove(-1)}>
          ↑
        </Button>
        <Button size="small" aria-label={`Figure ${number} later`} onClick={() => onMove(1)}>
          ↓
        </Button>
        <Button size="small" color="error" aria-label={`Take out figure ${number}`} onClick={onRemove}>
          Out
        </Button>
      </Box>
    </Box>
  );
}

/** To which sides a task is flown in a lesson. */
function sidesOf(course: CourseDocument, key: string, figures: readonly Figure[]): [Side, ...Side[]] {
  const task = course.tasks.find((t) => t.key === key);
  if (task?.side === "left" || task?.side === "right") return [task.side];
  return figures.find((f) => f.key === task?.figure)?.has_sides ? ["left", "right"] : ["left"];
}
