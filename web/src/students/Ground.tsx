import { Box, Checkbox, FormControlLabel, Typography } from "@mui/material";
import { api } from "../api/client";
import type { Student, Way } from "../api/types";
import { day } from "../frame/dates";
import { Trouble } from "../frame/states";
import { tokens } from "../theme";
import { useAsksAgain } from "./useAsksAgain";

const styles = {
  item: { display: "flex", m: 0, alignItems: "flex-start", "& .MuiCheckbox-root": { py: 0.4 } },
  small: { fontSize: 13, color: tokens.slate },
} as const;

/** What the course has on the ground: done with whom and when; an instructor ticks. */
export function Ground({ student, way, teaches }: { student: Student; way: Way; teaches: boolean }) {
  const act = api.useMutation("put", "/api/students/{student_id}/ground/{item}", useAsksAgain());
  const done = way.ground.filter((g) => g.done_by !== null);
  return (
    <Box component="section" aria-label="On the ground">
      <Typography variant="h2">
        On the ground: {done.length} of {way.ground.length}
      </Typography>
      <Typography sx={styles.small}>
        {way.ground_done_h} of at least {way.ground_h} h; in the air at least {way.flight_h} h
      </Typography>
      {act.isError && <Trouble error={act.error} />}
      {way.ground.map((g) => (
        <FormControlLabel
          key={g.key}
          sx={styles.item}
          disabled={!teaches || act.isPending}
          control={
            <Checkbox
              size="small"
              checked={g.done_by !== null}
              onChange={(e) =>
                act.mutate({
                  params: { path: { student_id: student.id, item: g.key } },
                  body: { done: e.target.checked },
                })
              }
            />
          }
          label={
            <>
              <Typography sx={{ fontSize: 14, color: tokens.ink }}>{g.words}</Typography>
              {g.done_by && g.done_at && (
                <Typography sx={styles.small}>
                  {day(g.done_at)}, {g.done_by}
                </Typography>
              )}
            </>
          }
        />
      ))}
    </Box>
  );
}
