import { Alert, Button, Dialog, DialogActions, DialogContent, DialogTitle } from "@mui/material";
import type { ReactNode } from "react";
import { Failed, inOneLine } from "../api/client";
import type { FieldSpec, Problem } from "../api/types";
import { Trouble } from "../frame/states";
import { unplaced } from "./fill";

const styles = {
  content: { display: "grid", gap: 2, alignContent: "start" },
  refusal: { position: "sticky", top: 0, zIndex: 2 },
} as const;

interface Props {
  title: string;
  /** What the document is called on the button: "the card". */ what: string;
  error: unknown;
  in_: string;
  fields: FieldSpec[];
  storing: boolean;
  ready: boolean;
  onStore: () => void;
  onClose: () => void;
  children: ReactNode;
}

/** The frame of an editor: what is wrong on top, what it is about in the middle, store or leave below. */
export function EditorDialog(props: Props) {
  const { title, what, error, in_, fields, storing, ready, onStore, onClose, children } = props;
  const problems = problemsOf(error);
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="lg">
      <DialogTitle>{title}</DialogTitle>
      <DialogContent sx={styles.content}>
        {problems.length > 0 && (
          <Alert severity="error" sx={styles.refusal}>
            Not stored: {problems.length === 1 ? "one entry does" : `${problems.length} entries do`} not
            agree. What is stored is as it was.
            {unplaced(problems, in_, fields).map((p) => (
              <div key={p.where + p.what}>{inOneLine(p)}</div>
            ))}
          </Alert>
        )}
        {error != null && problems.length === 0 && <Trouble error={error} />}
        {children}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Leave it as it was</Button>
        <Button variant="contained" disabled={storing || !ready} onClick={onStore}>
          Store {what}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

export function problemsOf(error: unknown): Problem[] {
  return error instanceof Failed ? error.problems : [];
}
