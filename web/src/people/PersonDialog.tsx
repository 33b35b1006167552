import {
  Box,
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  MenuItem,
  TextField,
} from "@mui/material";
import { useState } from "react";
import { api } from "../api/client";
import type { LinkMade, PersonIn, PersonLine } from "../api/types";
import { Leaving } from "../forms/EditorDialog";
import { NumberField } from "../forms/NumberField";
import { Trouble } from "../frame/states";
import { usePeopleAgain } from "./usePeopleAgain";

const styles = {
  content: { display: "grid", gap: 2, pt: "8px !important" },
  two: { display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" } },
} as const;

interface Props {
  /** None for somebody new. */ person?: PersonLine | undefined;
  onClose: () => void;
  onLink: (made: LinkMade) => void;
}

/** The weight is asked for: null until it is given. */
type Typed = Omit<Required<PersonIn>, "weight_lb"> & { weight_lb: number | null };
const NOBODY: Typed = {
  username: "",
  name: "",
  email: "",
  role: "student",
  student: true,
  weight_lb: null,
};

/** Who somebody is and what they do here; somebody new gets a link in. */
export function PersonDialog({ person, onClose, onLink }: Props) {
  const begun: Typed = person ? { ...person, student: person.student_id !== null } : NOBODY;
  const [who, setWho] = useState(begun);
  const [leaving, setLeaving] = useState(false);
  const inviting = api.useMutation(
    "post",
    "/api/people",
    usePeopleAgain<LinkMade>((made) => {
      onClose();
      onLink(made);
    }),
  );
  const changing = api.useMutation("put", "/api/people/{person_id}", usePeopleAgain(onClose));
  const put = (part: Partial<Typed>) => setWho((before) => ({ ...before, ...part }));
  const { username, name, email, role, student, weight_lb } = who;
  const changed = JSON.stringify(who) !== JSON.stringify(begun);
  const store = () => {
    if (weight_lb === null) return;
    const body = { username, name, email, role, student, weight_lb };
    if (person) changing.mutate({ params: { path: { person_id: person.id } }, body });
    else inviting.mutate({ body });
  };
  const failed = inviting.error ?? changing.error;
  const leave = () => (changed ? setLeaving(true) : onClose());
  return (
    <Dialog open onClose={leave} fullWidth maxWidth="sm" aria-labelledby="person-title">
      <DialogTitle id="person-title">{person ? person.name : "Ask somebody in"}</DialogTitle>
      <DialogContent sx={styles.content}>
        {failed && <Trouble error={failed} />}
        <Box sx={styles.two}>
          <TextField label="Name" required value={name} onChange={(e) => put({ name: e.target.value })} />
          <TextField
            label="Name to log in"
            required
            value={username}
            onChange={(e) => put({ username: e.target.value })}
            helperText="Letters, figures, dots and dashes."
          />
          <TextField
            label="E-mail"
            value={email}
            onChange={(e) => put({ email: e.target.value })}
            helperText="For the link in, where letters are sent."
          />
          <NumberField
            label="Weight with clothes"
            unit="lb"
            placeholder="missing"
            value={weight_lb}
            onValue={(value) => put({ weight_lb: value })}
          />
          <TextField
            select
            label="Teaches as"
            value={role}
            onChange={(e) => put({ role: e.target.value as PersonIn["role"] })}
          >
            <MenuItem value="student">does not teach</MenuItem>
            <MenuItem value="instructor">instructor</MenuItem>
            <MenuItem value="chief">chief instructor</MenuItem>
          </TextField>
          <FormControlLabel
            control={<Checkbox checked={student} onChange={(e) => put({ student: e.target.checked })} />}
            label="Is taught here"
          />
        </Box>
      </DialogContent>
      {leaving ? (
        <Leaving onStay={() => setLeaving(false)} onDrop={onClose} />
      ) : (
        <DialogActions>
          <Button onClick={leave}>Leave it as it was</Button>
          <Button
            variant="contained"
            disabled={!changed || weight_lb === null || inviting.isPending || changing.isPending}
            onClick={store}
          >
            {person ? "Store it" : "Make the link in"}
          </Button>
        </DialogActions>
      )}
    </Dialog>
  );
}
