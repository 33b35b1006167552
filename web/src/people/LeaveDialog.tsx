import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  MenuItem,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { api } from "../api/client";
import type { PersonLine } from "../api/types";
import { Trouble } from "../frame/states";
import { usePeopleAgain } from "./usePeopleAgain";

const styles = { content: { display: "grid", gap: 2, pt: "8px !important" } } as const;

interface Props {
  person: PersonLine;
  people: readonly PersonLine[];
  onClose: () => void;
}

/** Somebody leaves: what is left for them as instructor goes to another, what they flew and signed stays. */
export function LeaveDialog({ person, people, onClose }: Props) {
  const [reason, setReason] = useState("");
  const [instead, setInstead] = useState<number | "">("");
  const leaving = api.useMutation("post", "/api/people/{person_id}/leave", usePeopleAgain(onClose));
  const others = people.filter((p) => p.id !== person.id && p.role !== "student");
  const act = () =>
    leaving.mutate({
      params: { path: { person_id: person.id } },
      body: { reason, instead: instead === "" ? null : instead },
    });
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="leave-title">
      <DialogTitle id="leave-title">{person.name} leaves the school</DialogTitle>
      <DialogContent sx={styles.content}>
        {leaving.isError && <Trouble error={leaving.error} />}
        <Typography>
          They cannot log in any more. What they flew, debriefed and signed stays as it is; what they were to
          fly as a student is cancelled.
        </Typography>
        <TextField
          label="Why"
          required
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 300 } }}
        />
        {person.ahead > 0 && (
          <TextField
            select
            required
            label="Who takes over as instructor"
            value={instead}
            onChange={(e) => setInstead(Number(e.target.value))}
            helperText={`${person.ahead} sorties to fly, debrief or sign. Those that are to be flown are briefed again.`}
          >
            {others.map((p) => (
              <MenuItem key={p.id} value={p.id}>
                {p.name}
              </MenuItem>
            ))}
          </TextField>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>They stay</Button>
        <Button
          variant="contained"
          color="error"
          disabled={leaving.isPending || reason.trim().length < 3 || (person.ahead > 0 && instead === "")}
          onClick={act}
        >
          {person.name} leaves
        </Button>
      </DialogActions>
    </Dialog>
  );
}
