import {
  Alert,
  Box,
  Button,
  Paper,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import type { Problem } from "../../api/types";
import { dayAndTime } from "../../frame/dates";
import { narrow, tokens } from "../../theme";
import { HeightStrip } from "../../strip/HeightStrip";
import { VerdictMark } from "../../verdict/VerdictMark";
import { Past } from "../Past";
import { became } from "../debrief/Became";
import { NotYet, type StageProps } from "../stage";
import type { SortieWork } from "../useSortie";
import { Correct } from "./Correct";
import { SheetRead } from "./SheetRead";
import { Refusals } from "../../frame/states";
import { FEEL_ENDS } from "../../frame/feel";

const styles = {
  page: {
    height: "100%",
    display: "grid",
    gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(0, 1fr) 340px" },
    alignContent: "start",
    overflow: "auto",
    "@media print": { display: "block", height: "auto", overflow: "visible" },
  },
  flown: { border: `1px solid ${tokens.hairline}`, overflowX: "auto" },
  aside: {
    p: 2.5,
    borderLeft: { md: `1px solid ${tokens.hairline}` },
    display: "flex",
    flexDirection: "column",
    gap: 2,
  },
  thing: { borderLeft: `4px solid ${tokens.plan}`, pl: 1.5, mb: 1.5 },
  said: { fontSize: 20, fontWeight: 720, lineHeight: 1.2 },
  corrected: { fontSize: 12.5, color: tokens.mindInk },
  small: { fontSize: 12.5, color: tokens.slate },
  holds: { display: "flex", gap: 1, alignItems: "center", mt: 1 },
  digest: { ...narrow, fontSize: 12.5, color: tokens.slate, wordBreak: "break-all", mt: 1 },
  form: { display: "flex", flexDirection: "column", gap: 1.5 },
} as const;

/** What is signed is read first, then signed with the password; a signed record is corrected beside it, never changed. */
export default function SignStage({ work }: StageProps) {
  const { sortie, answer, draft } = work;
  const { attempts } = work.notes;
  const signed = sortie.signature;
  return (
    <Box sx={styles.page} tabIndex={0}>
      <Box sx={{ p: 2.5, minWidth: 0 }}>
        <Typography component="h2" sx={{ fontSize: 22, fontWeight: 740 }}>
          {sortie.lesson_name}, {sortie.student}
        </Typography>
        <Typography sx={{ color: tokens.slate, mb: 1.5 }}>
          {dayAndTime(sortie.planned_for)} · {sortie.aircraft} {sortie.aircraft_name} · {sortie.place} ·
          instructor {sortie.instructor}
        </Typography>
        {draft.debrief.one_thing && (
          <Box component="section" aria-label="One thing" sx={styles.thing}>
            <Typography variant="h2">One thing</Typography>
            <Typography sx={styles.said}>{draft.debrief.one_thing}</Typography>
          </Box>
        )}
        <Paper sx={styles.flown} tabIndex={0}>
          <Table size="small" sx={narrow}>
            <TableHead>
              <TableRow>
                {[
                  "Figure",
                  "Who flew",
                  "Start",
                  "Lowest",
                  "Lost",
                  "As briefed",
                  "Faults",
                  "Grade",
                  "Student’s own",
                ].map((h) => (
                  <TableCell key={h}>{h}</TableCell>
                ))}
              </TableRow>
            </TableHead>
            <TableBody>
              {attempts.map((a) => {
                const account = sortie.accounts[a.id];
                const words =
                  answer.figures
                    .find((f) => f.key === a.planned.key)
                    ?.faults.filter((f) => a.faults.includes(f.key))
                    .map((f) => f.words) ?? [];
                return (
                  <TableRow key={a.id}>
                    <TableCell sx={{ fontWeight: 650 }}>
                      {sortie.attempt_titles[a.id] ?? answer.titles[a.planned.id] ?? a.planned.key}
                      {sortie.corrections.some((c) => c.what?.attempt === a.id) && (
                        <Box sx={styles.corrected}>corrected since, see below</Box>
                      )}
                    </TableCell>
                    <TableCell>{[a.flown_by, became(a)].filter(Boolean).join("; ")}</TableCell>
                    <TableCell>{a.start_ft?.toLocaleString("en") ?? ""}</TableCell>
                    <TableCell>{a.lowest_ft?.toLocaleString("en") ?? ""}</TableCell>
                    <TableCell sx={{ color: tokens.flown, fontWeight: 700 }}>
                      {account?.flown.shown ?? ""}
                    </TableCell>
                    <TableCell sx={{ color: tokens.plan }}>{account?.planned.shown ?? ""}</TableCell>
                    <TableCell>
                      {words.join(", ")}
                      {a.stops.map((stop) => (
                        <Box key={stop.kind} sx={{ color: tokens.stop }}>
                          Stop: {stop.kind}, {stop.value.toLocaleString("en")}
                        </Box>
                      ))}
                    </TableCell>
                    <TableCell sx={{ fontWeight: 650 }}>
                      {a.grade ?? ""}
                      {a.grade_reason && <Box sx={styles.small}>{a.grade_reason}</Box>}
                    </TableCell>
                    <TableCell>
                      {a.own_grade ?? ""}
                      {a.surprise && <Box sx={styles.small}>“{a.surprise}”</Box>}
                    </TableCell>
                  </TableRow>
                );
              })}
              {attempts.length === 0 && (
                <TableRow>
                  <TableCell colSpan={9}>Nothing has been noted.</TableCell>
                </TableRow>
              )}
            </TableBody>
          </Table>
        </Paper>
        <Box sx={{ height: 270, mt: 2 }}>
          <HeightStrip answer={answer} attempts={attempts.filter((a) => !a.skipped)} />
        </Box>
        {draft.debrief.note && <Typography sx={{ mt: 2, fontSize: 17 }}>{draft.debrief.note}</Typography>}
        {draft.debrief.feel != null && (
          <Typography>
            <b>Feel at the end:</b> {draft.debrief.feel} ({FEEL_ENDS})
          </Typography>
        )}
        {draft.debrief.flight_min != null && (
          <Typography>
            <b>In the air:</b> {draft.debrief.flight_min} min
          </Typography>
        )}
        {draft.debrief.next && (
          <Typography sx={{ mt: 0.5 }}>
            <b>Next:</b> {draft.debrief.next}
          </Typography>
        )}
        {answer.checks
          .filter((c) => c.overridden)
          .map((c) => (
            <Typography key={c.id} sx={{ mt: 1, color: tokens.stop }}>
              <VerdictMark verdict="overridden" /> {c.title}: overridden. {c.overridden}
            </Typography>
          ))}
        {sortie.corrections.map((c) => (
          <Alert key={c.at} severity="warning" icon={false} sx={{ mt: 2 }}>
            <b>
              Correction by {c.by}, {dayAndTime(c.at)}.
            </b>{" "}
            {c.text}
            <div>Reason: {c.reason}</div>
          </Alert>
        ))}
      </Box>
      <Box sx={styles.aside}>
        {signed ? (
          <>
            <Box>
              <Typography variant="h2">Signed</Typography>
              <Typography sx={{ fontSize: 20, fontWeight: 700 }}>{signed.by}</Typography>
              <Typography>{dayAndTime(signed.at)}</Typography>
              <Typography sx={styles.holds}>
                <VerdictMark verdict={signed.holds ? "fine" : "stop"} />
                {signed.holds
                  ? "The record is as it was signed."
                  : `The record is not as it was signed: ${signed.trouble ?? "it cannot be checked"}.`}
              </Typography>
              <Typography sx={styles.digest}>SHA-256 {signed.digest}</Typography>
            </Box>
            <SheetRead work={work} />
            {sortie.may.correct && <Correct work={work} />}
          </>
        ) : sortie.may.save ? (
          <SignForm work={work} />
        ) : (
          <Typography>Not signed yet.</Typography>
        )}
        <Box>
          <Typography variant="h2" sx={{ mb: 0.5 }}>
            What became of it
          </Typography>
          <Past sortie={sortie} />
        </Box>
      </Box>
    </Box>
  );
}

function SignForm({ work }: { work: SortieWork }) {
  const [password, setPassword] = useState("");
  const [problems, setProblems] = useState<Problem[]>([]);
  const [busy, setBusy] = useState(false);
  const ready = work.sortie.may.sign;
  const submit = (event: React.FormEvent) => {
    event.preventDefault();
    setBusy(true);
    void work.sign(password).then((found) => {
      setProblems(found);
      setPassword("");
      setBusy(false);
    });
  };
  return (
    <Box component="form" onSubmit={submit} sx={styles.form}>
      <Typography variant="h2">Sign</Typography>
      {!ready && <NotYet work={work} stage="signed" words="Not ready to sign." />}
      <Typography>
        Signing stores what is shown here with its digest and locks it. It records what was flown and judged;
        it grants nothing.
      </Typography>
      <TextField
        label="Your password"
        type="password"
        autoComplete="current-password"
        value={password}
        onChange={(e) => setPassword(e.target.value)}
        disabled={!ready}
      />
      <Refusals of={problems} />
      <Button
        type="submit"
        variant="contained"
        disabled={!ready || busy || password === ""}
        sx={{ minHeight: 52, fontSize: 17 }}
      >
        Sign and lock
      </Button>
    </Box>
  );
}
