import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useState } from "react";
import { useOutletContext, useSearchParams } from "react-router";
import { answered, server } from "../api/client";
import { useCourses } from "../api/questions";
import type { Course, CourseDocument, Differs, Person } from "../api/types";
import { TakeFile } from "../fleet/TakeFile";
import { offerJson } from "../frame/files";
import { Loading, Trouble } from "../frame/states";
import { useTitle } from "../frame/useTitle";
import { tokens } from "../theme";
import { CourseEditor } from "./CourseEditor";
import { CourseSheet } from "./CourseSheet";
import { DiffersList } from "./DiffersList";
import { Versions } from "./Versions";
import { NEW_COURSE } from "./edit";

const styles = {
  page: {
    height: "100%",
    display: "grid",
    gridTemplateColumns: { xs: "1fr", md: "268px minmax(0, 1fr)" },
    overflow: { xs: "auto", md: "hidden" },
  },
  list: { p: 2, overflow: "auto", borderRight: { xs: 0, md: `1px solid ${tokens.hairline}` } },
  one: {
    display: "block",
    width: "100%",
    textAlign: "left",
    borderRadius: 0,
    color: tokens.ink,
    px: 1.2,
    py: 1,
    borderBottom: `1px solid ${tokens.hairline}`,
  },
  chosen: { bgcolor: tokens.planPale },
  small: { fontSize: 13, fontWeight: 400 },
  main: { p: 2, minWidth: 0, overflow: "auto" },
  acts: { display: "flex", gap: 1, flexShrink: 0 },
} as const;

interface Editing {
  /** The version in force that it is built on; null for a new course. */ held: Course | null;
  start: CourseDocument;
}

/** A course from a file, before it is looked at in the editor. */
interface Read {
  held: Course | null;
  differs: Differs[];
  course: CourseDocument;
}

/** The school's courses: what is taught, in which order, to what standard. The chief changes them, version by version. */
export default function Courses() {
  useTitle("Courses");
  const person = useOutletContext<Person>();
  const chief = person.role === "chief";
  const [search, setSearch] = useSearchParams();
  const [editing, setEditing] = useState<Editing | null>(null);
  const [read, setRead] = useState<Read | null>(null);
  const [versions, setVersions] = useState(false);
  const [failed, setFailed] = useState<unknown>(null);
  const found = useCourses();
  if (found.isPending) return <Loading what="the courses" />;
  if (found.isError) return <Trouble error={found.error} again={() => void found.refetch()} />;
  const chosen = found.data.find((c) => c.key === search.get("course")) ?? found.data[0];
  const take = (document: unknown) => {
    setFailed(null);
    const course = document as CourseDocument;
    answered(server.POST("/api/course-files", { body: { version: 1, course } })).then((answer) => {
      const held = found.data.find((c) => c.key === answer.course.key) ?? null;
      setRead({ held, differs: answer.differs, course: answer.course });
    }, setFailed);
  };
  return (
    <Box component="main" sx={styles.page}>
      <Box sx={styles.list}>
        <Typography variant="h1" sx={{ mb: 1 }}>
          Courses
        </Typography>
        {found.data.map((c) => (
          <Button
            key={c.key}
            aria-pressed={c.key === chosen?.key}
            onClick={() => setSearch({ course: c.key })}
            sx={c.key === chosen?.key ? { ...styles.one, ...styles.chosen } : styles.one}
          >
            {c.course.name}
            <Box sx={styles.small}>
              version {c.version} · {studentsOn(c)}
            </Box>
          </Button>
        ))}
        {chief && (
          <Box sx={{ ...styles.acts, mt: 1 }}>
            <Button onClick={() => setEditing({ held: null, start: NEW_COURSE })}>New course</Button>
            <TakeFile label="Import a course" onTaken={take} onFailed={setFailed} />
          </Box>
        )}
        {failed != null && <Trouble error={failed} />}
      </Box>
      <Box tabIndex={0} role="region" aria-label="The course" sx={styles.main}>
        {chosen && (
          <CourseSheet held={chosen}>
            <Box sx={styles.acts}>
              <Button onClick={() => setVersions(true)}>Versions</Button>
              <Button onClick={() => offerJson(`${chosen.key}-${chosen.version}.json`, chosen.course)}>
                Export
              </Button>
              {chief && (
                <Button
                  variant="contained"
                  onClick={() => setEditing({ held: chosen, start: chosen.course })}
                >
                  Edit
                </Button>
              )}
            </Box>
          </CourseSheet>
        )}
      </Box>
      {editing && <CourseEditor {...editing} onClose={() => setEditing(null)} />}
      {versions && chosen && <Versions held={chosen} onClose={() => setVersions(false)} />}
      {read && (
        <FromFile
          read={read}
          onClose={() => setRead(null)}
          onLook={() => {
            setEditing({ held: read.held, start: read.course });
            setRead(null);
          }}
        />
      )}
    </Box>
  );
}

function studentsOn(course: Course): string {
  if (course.students === 0) return "no student";
  const earlier = course.earlier > 0 ? `, ${course.earlier} on an earlier version` : "";
  return `${course.students} student${course.students === 1 ? "" : "s"}${earlier}`;
}

function FromFile({ read, onClose, onLook }: { read: Read; onClose: () => void; onLook: () => void }) {
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md" aria-labelledby="read-title">
      <DialogTitle id="read-title">{read.course.name}, from a file</DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 1 }}>
          {!read.held
            ? "The school has no course of this name in files: it would be a new one."
            : read.differs.length === 0
              ? `It is as version ${read.held.version}, which is in force here.`
              : `It would become version ${read.held.version + 1}. What differs:`}
        </Typography>
        <DiffersList differs={read.differs} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Leave it</Button>
        <Button
          variant="contained"
          disabled={read.held !== null && read.differs.length === 0}
          onClick={onLook}
        >
          Look at it in the editor
        </Button>
      </DialogActions>
    </Dialog>
  );
}
