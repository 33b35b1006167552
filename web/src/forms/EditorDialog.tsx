import {
  Alert,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Typography,
  useMediaQuery,
  type Theme,
} from "@mui/material";
import { useState, type ReactNode } from "react";
import { Failed } from "../api/client";
import type { FieldSpec, Problem } from "../api/types";
import { Lines, Trouble } from "../frame/states";
import { unplaced } from "./fill";
import { TypingContext, useTyping } from "./typed";

const styles = {
  content: {
    display: "grid",
    gap: 2,
    alignContent: "start",
    // What is focused is brought clear of the keys below.
    "& input, & textarea": { scrollMarginBlock: "90px" },
  },
  refusal: { position: "sticky", top: 0, zIndex: 2 },
} as const;

interface Props {
  title: string;
  /** What the document is called on the button: "the card". */ what: string;
  error: unknown;
  in_: string;
  fields: FieldSpec[];
  storing: boolean;
  /** Whether anything was changed: leaving then asks. */ changed: boolean;
  ready: boolean;
  onStore: () => void;
  onClose: () => void;
  children: ReactNode;
}

/** The frame of an editor: what is wrong on top, what it is about in the middle, store or leave below. */
export function EditorDialog(props: Props) {
  const { title, what, error, in_, fields, storing, ready, onStore, onClose, children } = props;
  const problems = problemsOf(error);
  const { typed, tell } = useTyping();
  const [leaving, setLeaving] = useState(false);
  const untaken = typed.filter((field) => field.problem);
  const leave = () => (props.changed || typed.length > 0 ? setLeaving(true) : onClose());
  const small = useMediaQuery((theme: Theme) => theme.breakpoints.down("sm"));
  return (
    <Dialog open onClose={leave} fullWidth maxWidth="lg" fullScreen={small}>
      <DialogTitle>{title}</DialogTitle>
      <DialogContent sx={styles.content}>
        {problems.length > 0 && (
          <Alert severity="error" sx={styles.refusal}>
            Not stored: {problems.length === 1 ? "one entry does" : `${problems.length} entries do`} not
            agree. What is stored is as it was.
            <Lines of={unplaced(problems, in_, fields)} />
          </Alert>
        )}
        {error != null && problems.length === 0 && <Trouble error={error} />}
        <TypingContext value={tell}>{children}</TypingContext>
      </DialogContent>
      {leaving ? (
        <Leaving onStay={() => setLeaving(false)} onDrop={onClose} />
      ) : (
        <DialogActions>
          {untaken.length > 0 && (
            <Typography role="alert" sx={{ color: "error.main", fontSize: 14 }}>
              Not stored: {untaken.map((field) => `${field.label}: ${field.problem}`).join(" ")}
            </Typography>
          )}
          <Button onClick={leave}>Leave it as it was</Button>
          <Button variant="contained" disabled={storing || !ready || untaken.length > 0} onClick={onStore}>
            Store {what}
          </Button>
        </DialogActions>
      )}
    </Dialog>
  );
}

/** Asked before what was changed in a dialog is dropped. */
export function Leaving({ onStay, onDrop }: { onStay: () => void; onDrop: () => void }) {
  return (
    <DialogActions>
      <Typography role="alert" sx={{ mr: "auto", fontWeight: 650 }}>
        What you changed here is not stored.
      </Typography>
      <Button onClick={onStay} autoFocus>
        Go on with it
      </Button>
      <Button color="error" onClick={onDrop}>
        Drop the changes
      </Button>
    </DialogActions>
  );
}

export function problemsOf(error: unknown): Problem[] {
  return error instanceof Failed ? error.problems : [];
}
