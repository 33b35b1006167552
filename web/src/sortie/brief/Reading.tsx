import { api } from "../../api/client";
import { Box, Button, Checkbox, FormControlLabel, MenuItem, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Person, Question, Sortie } from "../../api/types";
import { dayAndTime } from "../../frame/dates";
import { Trouble } from "../../frame/states";
import { tokens } from "../../theme";
import { VerdictMark } from "../../verdict/VerdictMark";
import { FEEL_ENDS } from "../../frame/feel";
import { editPlan } from "../edits";
import type { SortieWork } from "../useSortie";

const styles = {
  state: { display: "flex", gap: 1, alignItems: "center" },
  answer: { display: "flex", gap: 0.5, mt: 0.5 },
  detail: { fontSize: 12.5, color: tokens.slate, pl: 3.6, mt: -0.6, lineHeight: 1.25 },
} as const;

/** The student ticks what was read and asks; the instructor sees it and answers. */
export function Reading({ work, person, figure }: { work: SortieWork; person: Person; figure: string }) {
  const { sortie } = work;
  const [text, setText] = useState("");
  const params = { path: { sortie_id: sortie.id } };
  const student = person.role === "student";
  const onSuccess = (next: Sortie) => work.accept(next);
  const ask = api.useMutation("post", "/api/sorties/{sortie_id}/questions", {
    onSuccess: (next) => {
      onSuccess(next);
      setText("");
    },
  });
  const state = sortie.read
    ? `${student ? "You read" : `${sortie.student} read`} it ${dayAndTime(sortie.read.at)}${sortie.read.current ? "." : ", before the plan was last changed."}`
    : student
      ? "Read every page, then tick it."
      : `${sortie.student} has not ticked it as read.`;
  return (
    <Box component="section" aria-label="Reading" sx={{ mb: 1.5 }}>
      <Box sx={styles.state}>
        <VerdictMark verdict={sortie.read?.current ? "fine" : "mind"} size={16} />
        <Typography sx={{ fontSize: 14 }}>{state}</Typography>
      </Box>
      {sortie.questions.map((q) => (
        <Asked key={q.id} question={q} work={work} mayAnswer={sortie.may.save} />
      ))}
      {sortie.may.ask && (
        <Box sx={{ mt: 1 }}>
          <TextField
            fullWidth
            multiline
            label={figure ? `Ask about ${work.answer.titles[figure]}` : "Ask about the flight"}
            value={text}
            onChange={(e) => setText(e.target.value)}
            slotProps={{ htmlInput: { maxLength: 600 } }}
          />
          <Button
            sx={{ mt: 0.5 }}
            disabled={text.trim().length < 3 || ask.isPending}
            onClick={() => ask.mutate({ params, body: { text, figure } })}
          >
            Ask
          </Button>
        </Box>
      )}
      {ask.isError && <Trouble error={ask.error} />}
    </Box>
  );
}

/** The student's way through the brief: to the next page, and at the end the tick. */
export function ReadIt({ work, last, onNext }: { work: SortieWork; last: boolean; onNext: () => void }) {
  const { sortie } = work;
  const read = api.useMutation("post", "/api/sorties/{sortie_id}/read", {
    onSuccess: (next) => work.accept(next),
  });
  if (!last || sortie.read?.current)
    return (
      <Button variant={sortie.read?.current ? "outlined" : "contained"} disabled={last} onClick={onNext}>
        {last ? "Read" : "Next page"}
      </Button>
    );
  return (
    <>
      {read.isError && <Trouble error={read.error} />}
      <Button
        variant="contained"
        disabled={read.isPending}
        onClick={() => read.mutate({ params: { path: { sortie_id: sortie.id } } })}
      >
        I have read it
      </Button>
    </>
  );
}

function Asked({ question, work, mayAnswer }: { question: Question; work: SortieWork; mayAnswer: boolean }) {
  const [text, setText] = useState("");
  const params = { path: { sortie_id: work.sortie.id, question_id: question.id } };
  const answer = api.useMutation("post", "/api/sorties/{sortie_id}/questions/{question_id}", {
    onSuccess: (next) => work.accept(next),
  });
  return (
    <Box
      sx={{
        mt: 1,
        pl: 1,
        borderLeft: `3px solid ${question.answer ? tokens.hairline : tokens.mind}`,
        fontSize: 14,
      }}
    >
      <div>
        <b>{question.by}:</b> {question.text}
        {question.figure && (
          <Box component="span" sx={{ color: tokens.slate }}>
            {" "}
            ({work.answer.titles[question.figure] ?? "a figure that is gone"})
          </Box>
        )}
      </div>
      {question.answer && (
        <div>
          <b>{question.answered_by}:</b> {question.answer}
        </div>
      )}
      {!question.answer && mayAnswer && (
        <Box sx={styles.answer}>
          <TextField
            fullWidth
            label={`Answer ${question.by.split(" ")[0]}`}
            value={text}
            onChange={(e) => setText(e.target.value)}
            slotProps={{ htmlInput: { maxLength: 1000 } }}
          />
          <Button
            disabled={text.trim() === "" || answer.isPending}
            onClick={() => answer.mutate({ params, body: { text } })}
          >
            Answer
          </Button>
        </Box>
      )}
      {answer.isError && <Trouble error={answer.error} />}
    </Box>
  );
}

/** What is ticked on the ground, the student's number, and a note. */
export function BeforeFlight({ work, editable }: { work: SortieWork; editable: boolean }) {
  const { draft, change, sortie } = work;
  const tick = (key: string, on: boolean) =>
    change((d) => ({
      ...d,
      brief: {
        ...d.brief,
        checked: on ? [...d.brief.checked, key] : d.brief.checked.filter((k) => k !== key),
      },
    }));
  return (
    <Box component="section" aria-label="Before the flight">
      <Typography variant="h2">Before the flight</Typography>
      {sortie.brief_items.map((item) => (
        <Box key={item.key} sx={{ borderBottom: `1px solid ${tokens.hairline}`, py: 0.2 }}>
          <FormControlLabel
            sx={{ "& .MuiFormControlLabel-label": { fontWeight: 650 } }}
            label={item.words}
            control={
              <Checkbox
                size="small"
                checked={draft.brief.checked.includes(item.key)}
                disabled={!editable}
                onChange={(e) => tick(item.key, e.target.checked)}
              />
            }
          />
          <Typography sx={styles.detail}>{item.detail}</Typography>
        </Box>
      ))}
      <TextField
        select
        size="small"
        fullWidth
        label={`How the student feels, ${FEEL_ENDS}`}
        value={draft.plan.feeling ?? ""}
        disabled={!editable}
        sx={{ mt: 1.5 }}
        onChange={(e) =>
          change(
            editPlan((plan) => ({ ...plan, feeling: e.target.value === "" ? null : Number(e.target.value) })),
          )
        }
      >
        <MenuItem value="">not asked yet</MenuItem>
        {[...Array(11).keys()].reverse().map((n) => (
          <MenuItem key={n} value={n}>
            {n}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        label="Note from the brief"
        multiline
        fullWidth
        minRows={1}
        value={draft.brief.note}
        disabled={!editable}
        sx={{ mt: 1.2 }}
        onChange={(e) =>
          change((d) => ({ ...d, brief: { ...d.brief, note: e.target.value } }), "type brief note")
        }
      />
    </Box>
  );
}
