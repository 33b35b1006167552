import { Box, Button, Link, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { server } from "../../api/client";
import { dayAndTime } from "../../frame/dates";
import type { SortieWork } from "../useSortie";
import { useSending } from "./useSending";
import { Refusals } from "../../frame/states";

const styles = {
  form: { display: "flex", flexDirection: "column", gap: 1.2, alignItems: "flex-start" },
} as const;

/** The sheet of a signed sortie: on paper, and whether the student has read it, with what they say of it. */
export function SheetRead({ work }: { work: SortieWork }) {
  const { sortie } = work;
  const read = sortie.sheet_read;
  const student = sortie.may.sheet;
  const [comment, setComment] = useState(read?.comment ?? "");
  const { problems, send } = useSending(work);
  const say = () => {
    const path = { sortie_id: sortie.id };
    const body = { comment: comment.trim() };
    return send(server.POST("/api/sorties/{sortie_id}/sheet", { params: { path }, body }));
  };
  return (
    <Box
      component="form"
      aria-label="Student's sheet"
      onSubmit={(e: React.FormEvent) => {
        e.preventDefault();
        void say();
      }}
      sx={styles.form}
    >
      <Typography variant="h2">Student’s sheet</Typography>
      <Link href={`/api/sorties/${sortie.id}/sheet.pdf`}>On one page, as PDF</Link>
      <Typography>
        {read ? `Read by ${sortie.student}, ${dayAndTime(read.at)}.` : `Not read yet by ${sortie.student}.`}
        {read?.comment && !student && ` “${read.comment}”`}
      </Typography>
      {student && (
        <>
          <TextField
            label="What do you say to it?"
            fullWidth
            multiline
            value={comment}
            slotProps={{ htmlInput: { maxLength: 1000 } }}
            onChange={(e) => setComment(e.target.value)}
          />
          <Refusals of={problems} />
          <Button
            type="submit"
            variant="contained"
            disabled={read !== null && comment.trim() === read.comment}
          >
            {read ? "Change what I said" : "I have read it"}
          </Button>
        </>
      )}
    </Box>
  );
}
