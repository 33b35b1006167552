import {
  Alert,
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
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, Failed, server } from "../api/client";
import { askAgain } from "../api/questions";
import { sentCalendar } from "../api/upload";
import type { CalendarRead, Person, Problem, Week } from "../api/types";
import { problemsOf } from "../forms/EditorDialog";
import { WhenField } from "../forms/WhenField";
import { dayAndTime } from "../frame/dates";
import { FileZone } from "../frame/FileZone";
import { Refusals } from "../frame/states";
import { tokens } from "../theme";

const styles = {
  content: { display: "grid", gap: 2, pt: "8px !important", alignContent: "start" },
  two: { display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" } },
  line: {
    display: "grid",
    gridTemplateColumns: "minmax(0, 1fr) auto",
    alignItems: "center",
    gap: 1,
    minHeight: 44,
    borderBottom: `1px solid ${tokens.hairline}`,
    fontSize: 14.5,
  },
  file: { display: "grid", gap: 1, borderTop: `1px solid ${tokens.hairline}`, pt: 1.5 },
  list: { maxHeight: 180, overflow: "auto", fontSize: 14 },
} as const;

interface Props {
  week: Week;
  person: Person;
  onClose: () => void;
}

/** When somebody or an aircraft is not to be had: entered, read from a calendar's file, taken back. */
export function AwayDialog({ week, person, onClose }: Props) {
  const queries = useQueryClient();
  const whose = choices(week, person);
  const [of, setOf] = useState(`person ${person.id}`);
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const [words, setWords] = useState("");
  const [problems, setProblems] = useState<Problem[]>([]);
  const [file, setFile] = useState<File | null>(null);
  const [read, setRead] = useState<CalendarRead | null>(null);
  const [busy, setBusy] = useState(false);
  const subject = idOf(of);
  const doing = async (what: () => Promise<void>) => {
    setBusy(true);
    setProblems([]);
    try {
      await what();
      await queries.invalidateQueries({ queryKey: ["get", "/api/week"] });
      askAgain(queries, "/api/today");
    } catch (error) {
      setProblems(error instanceof Failed ? problemsOf(error) : []);
    } finally {
      setBusy(false);
    }
  };
  const enter = () =>
    doing(async () => {
      await answered(server.POST("/api/taken", { body: { ...subject, begins: from, ends: to, words } }));
      setWords("");
    });
  const look = (chosen: File) => {
    setFile(chosen);
    setRead(null);
    return doing(async () => setRead(await sentCalendar(chosen, subject, false)));
  };
  const takeFile = () =>
    doing(async () => {
      if (file) setRead(await sentCalendar(file, subject, true));
    });
  const mine = week.taken.filter((t) => t.may_remove);
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="away-title">
      <DialogTitle id="away-title">Not to be had</DialogTitle>
      <DialogContent sx={styles.content}>
        <Refusals of={problems} />
        <TextField
          select
          size="small"
          label="Who or what"
          value={of}
          onChange={(e) => {
            setOf(e.target.value);
            setRead(null);
          }}
        >
          {whose.map(([key, name]) => (
            <MenuItem key={key} value={key}>
              {name}
            </MenuItem>
          ))}
        </TextField>
        <Box sx={styles.two}>
          <WhenField label="From" now={week.now} value={from} onValue={setFrom} />
          <WhenField label="Until" now={week.now} value={to} onValue={setTo} />
        </Box>
        <Box sx={{ display: "flex", gap: 1.5 }}>
          <TextField
            size="small"
            fullWidth
            label="Why, in a word"
            value={words}
            onChange={(e) => setWords(e.target.value)}
            slotProps={{ htmlInput: { maxLength: 120 } }}
          />
          <Button
            variant="contained"
            disabled={busy || from === "" || to === "" || words.trim() === ""}
            onClick={() => void enter()}
          >
            Enter
          </Button>
        </Box>
        <FileZone
          label="Calendar's file"
          words={file ? "Another file" : "From a calendar's file"}
          hint="An iCalendar file (.ics) of any calendar. What it says is shown before anything is stored."
          may
          going={null}
          onFile={(chosen) => void look(chosen)}
          sx={styles.file}
        >
          {read && <WhatItSays read={read} busy={busy} onTake={() => void takeFile()} />}
        </FileZone>
        {mine.length > 0 && (
          <Box component="section" aria-label="In this week">
            <Typography variant="h2">In this week</Typography>
            {mine.map((t) => (
              <Box key={t.id} sx={styles.line}>
                <span>
                  <b>{t.of}</b> {dayAndTime(t.begins)} to {dayAndTime(t.ends)}: {t.words}
                  {t.file && `, from ${t.file}`}
                </span>
                <Button
                  size="small"
                  disabled={busy}
                  aria-label={`Take back: ${t.words}`}
                  onClick={() =>
                    void doing(async () => {
                      await answered(
                        server.DELETE("/api/taken/{taken_id}", { params: { path: { taken_id: t.id } } }),
                      );
                    })
                  }
                >
                  Take back
                </Button>
              </Box>
            ))}
          </Box>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}

function WhatItSays({ read, busy, onTake }: { read: CalendarRead; busy: boolean; onTake: () => void }) {
  const taken = read.found.filter((f) => f.left_out === "");
  const out = read.found.length - taken.length;
  if (read.stored !== null)
    return (
      <Alert severity="success">
        {read.of}: {times(read.stored)} stored, in the place of what files said before.
      </Alert>
    );
  return (
    <>
      <Typography sx={{ fontWeight: 650 }}>
        For {read.of}: {times(taken.length)} ahead{out > 0 && `, ${out} left out`}
      </Typography>
      <Box sx={styles.list} tabIndex={0} role="group" aria-label="What the file says">
        {read.found.map((f) => (
          <Box key={f.begins + f.words} sx={f.left_out ? { color: tokens.slate } : {}}>
            {dayAndTime(f.begins)} to {dayAndTime(f.ends)}: {f.words}
            {f.left_out && ` (left out: ${f.left_out})`}
          </Box>
        ))}
      </Box>
      <Button
        variant="contained"
        disabled={busy || taken.length === 0}
        onClick={onTake}
        sx={{ justifySelf: "start" }}
      >
        Take {times(taken.length)} over
      </Button>
    </>
  );
}

function times(n: number): string {
  return n === 1 ? "one time" : `${n} times`;
}

/** Of whom the asker may say it: themselves first. */
function choices(week: Week, person: Person): [key: string, name: string][] {
  const me: [string, string] = [`person ${person.id}`, `${person.name} (you)`];
  if (person.role === "student") return [me];
  const others = person.role === "chief" ? week.instructors.filter((i) => i.id !== person.id) : [];
  return [
    me,
    ...week.aircraft.map((a): [string, string] => [`aircraft ${a.id}`, `${a.name} ${a.more}`]),
    ...others.map((i): [string, string] => [`person ${i.id}`, i.name]),
  ];
}

function idOf(of: string): { person_id?: number; aircraft_id?: number } {
  const [kind, id] = of.split(" ");
  return kind === "person" ? { person_id: Number(id) } : { aircraft_id: Number(id) };
}
