import { Box, Button, TextField, ToggleButton, ToggleButtonGroup } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api, server } from "../api/client";
import { askAgain } from "../api/questions";
import type { Course, CourseDocument } from "../api/types";
import { EditorDialog, problemsOf } from "../forms/EditorDialog";
import { NumberField } from "../forms/NumberField";
import { DiffersList } from "./DiffersList";
import { nameInFiles } from "./edit";
import { GroundEditor } from "./GroundEditor";
import { LessonsEditor } from "./LessonsEditor";
import { TasksEditor } from "./TasksEditor";

const styles = {
  fields: { display: "grid", gap: 1.5, gridTemplateColumns: { xs: "1fr", md: "1fr 1fr" } },
  wide: { gridColumn: "1 / -1" },
  overtaken: { display: "grid", gap: 1, justifyItems: "start" },
} as const;

type Part = "course" | "tasks" | "lessons" | "ground";
const PARTS: [Part, string][] = [
  ["course", "The course"],
  ["tasks", "Tasks"],
  ["lessons", "Lessons"],
  ["ground", "On the ground"],
];

interface Props {
  /** The version in force that it is built on; null for a new course. */ held: Course | null;
  start: CourseDocument;
  onClose: () => void;
}

export interface PartProps {
  course: CourseDocument;
  onCourse: (course: CourseDocument) => void;
}

/** A course drawn up: stored as its next version, students stay on theirs. */
export function CourseEditor({ held, start, onClose }: Props) {
  const [course, setCourse] = useState(start);
  const [part, setPart] = useState<Part>("course");
  const [version, setVersion] = useState(held?.version ?? 1);
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: () => {
      const named = held ? course : { ...course, key: course.key || nameInFiles(course.name, []) };
      const body = { version, course: named };
      return held
        ? answered(server.PUT("/api/courses/{key}", { params: { path: { key: held.key } }, body }))
        : answered(server.POST("/api/courses", { body }));
    },
    onSuccess: () => {
      askAgain(queries, "/api/courses", "/api/courses/{key}/versions", "/api/lessons");
      askAgain(queries, "/api/students/{student_id}");
      onClose();
    },
  });
  const overtaken = problemsOf(save.error).some((p) => p.where === "version");
  const edit = { course, onCourse: setCourse };
  return (
    <EditorDialog
      title={held ? `${held.course.name}: version ${held.version + 1}` : "A new course"}
      what={held ? "as the next version" : "the course"}
      error={save.error}
      in_="course"
      fields={[]}
      storing={save.isPending}
      changed={course !== start || (held !== null && start !== held.course)}
      ready={course.name.trim() !== ""}
      onStore={() => save.mutate()}
      onClose={onClose}
    >
      {overtaken && held && (
        <Meanwhile
          held={held}
          onBuildOn={(newest) => {
            setVersion(newest);
            save.reset();
          }}
        />
      )}
      <ToggleButtonGroup
        exclusive
        size="small"
        value={part}
        onChange={(_, to: Part | null) => to && setPart(to)}
        aria-label="Part of the course"
      >
        {PARTS.map(([key, words]) => (
          <ToggleButton key={key} value={key}>
            {words}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      {part === "course" && <CourseFields {...edit} />}
      {part === "tasks" && <TasksEditor {...edit} />}
      {part === "lessons" && <LessonsEditor {...edit} />}
      {part === "ground" && <GroundEditor {...edit} />}
    </EditorDialog>
  );
}

function CourseFields({ course, onCourse }: PartProps) {
  const set = (edit: Partial<CourseDocument>) => onCourse({ ...course, ...edit });
  const text = (name: "name" | "purpose" | "source", label: string, most: number) => (
    <TextField
      label={label}
      value={course[name]}
      onChange={(e) => set({ [name]: e.target.value })}
      sx={most > 200 ? styles.wide : undefined}
      slotProps={{ htmlInput: { maxLength: most } }}
    />
  );
  return (
    <Box sx={styles.fields}>
      {text("name", "Name", 80)}
      <span />
      {text("purpose", "Purpose", 400)}
      {text("source", "Where it comes from", 300)}
      <NumberField
        label="Flight, at least"
        unit="h"
        least={0}
        most={500}
        value={course.flight_h}
        onValue={(v) => set({ flight_h: v ?? 0 })}
      />
      <NumberField
        label="Ground, at least"
        unit="h"
        least={0}
        most={500}
        value={course.ground_h}
        onValue={(v) => set({ ground_h: v ?? 0 })}
      />
    </Box>
  );
}

/** Somebody else stored a version since this one was opened: what it changed, and storing on top of it knowingly. */
function Meanwhile({ held, onBuildOn }: { held: Course; onBuildOn: (version: number) => void }) {
  const found = api.useQuery("get", "/api/courses/{key}/versions", { params: { path: { key: held.key } } });
  const newer = (found.data ?? []).filter((v) => v.version > held.version);
  const newest = newer[0];
  if (!newest) return null;
  return (
    <Box component="section" aria-label="Changed meanwhile" sx={styles.overtaken}>
      {newer.map((v) => (
        <Box key={v.version}>
          <b>
            Version {v.version}, {v.by}:
          </b>
          <DiffersList differs={v.differs} />
        </Box>
      ))}
      <Button variant="outlined" onClick={() => onBuildOn(newest.version)}>
        Take mine on top of it, as it stands here
      </Button>
    </Box>
  );
}
