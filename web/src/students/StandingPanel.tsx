import { Box, Button, MenuItem, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { api } from "../api/client";
import { useCatalogue } from "../api/questions";
import type { Student } from "../api/types";
import { day } from "../frame/dates";
import { Trouble } from "../frame/states";
import { tokens } from "../theme";
import { useAsksAgain } from "./useAsksAgain";

const styles = {
  small: { fontSize: 13.5, color: tokens.slate },
  form: { display: "grid", gap: 1.2, mt: 1 },
  list: { m: 0, pl: 2.2, fontSize: 13.5 },
} as const;

const FOLLOWS = "as it follows";
const FEW = 5;

/** The standing: what counts, what the tasks come to, and who has set it otherwise. */
export function StandingPanel({ student, chief }: { student: Student; chief: boolean }) {
  const { standing } = student;
  const [setting, setSetting] = useState(false);
  return (
    <Box component="section" aria-label="Standing">
      <Typography variant="h2">Standing: {standing.standing}</Typography>
      {standing.set_by !== null || standing.reason ? (
        <Typography sx={styles.small}>
          Set{standing.set_by && ` by ${standing.set_by}`}
          {standing.set_at && `, ${day(standing.set_at)}`}: {standing.reason} From the tasks it would be{" "}
          <b>{standing.follows}</b> ({standing.why}).
        </Typography>
      ) : (
        <Typography sx={styles.small}>From the tasks: {standing.why}.</Typography>
      )}
      {standing.missing.length > 0 && (
        <Box component="ul" sx={styles.list}>
          {standing.missing.slice(0, FEW).map((line) => (
            <li key={line}>{line}</li>
          ))}
          {standing.missing.length > FEW && <li>and {standing.missing.length - FEW} more</li>}
        </Box>
      )}
      {standing.ahead[0] && (
        <Typography sx={styles.small}>
          If nothing more is flown: {standing.ahead[0].standing} from {day(standing.ahead[0].day)}.
        </Typography>
      )}
      {chief &&
        (setting ? (
          <SetStanding student={student} onDone={() => setSetting(false)} />
        ) : (
          <Button size="small" sx={{ mt: 0.5 }} onClick={() => setSetting(true)}>
            Set it otherwise
          </Button>
        ))}
    </Box>
  );
}

function SetStanding({ student, onDone }: { student: Student; onDone: () => void }) {
  const [to, setTo] = useState<string>(student.standing.standing);
  const [reason, setReason] = useState("");
  const standings = useCatalogue().data?.standings ?? [];
  const act = api.useMutation("put", "/api/students/{student_id}/standing", useAsksAgain(onDone));
  const store = () => {
    const standing = standings.find((s) => s === to) ?? null;
    act.mutate({ params: { path: { student_id: student.id } }, body: { standing, reason } });
  };
  return (
    <Box sx={styles.form}>
      <TextField
        select
        size="small"
        label="Standing"
        value={standings.length ? to : ""}
        onChange={(e) => setTo(e.target.value)}
      >
        {[...standings, FOLLOWS].map((words) => (
          <MenuItem key={words} value={words}>
            {words}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        size="small"
        label="Reason, which stays on the record"
        value={reason}
        onChange={(e) => setReason(e.target.value)}
        slotProps={{ htmlInput: { maxLength: 300 } }}
      />
      {act.isError && <Trouble error={act.error} />}
      <Box>
        <Button variant="contained" disabled={act.isPending || reason.trim() === ""} onClick={store}>
          Set the standing
        </Button>
        <Button onClick={onDone}>Leave it</Button>
      </Box>
    </Box>
  );
}
