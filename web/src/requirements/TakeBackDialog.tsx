import { Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField } from "@mui/material";
import { useState } from "react";
import { api } from "../api/client";
import type { Requirements } from "../api/types";
import { problemsOf } from "../forms/EditorDialog";
import { Refusals } from "../frame/states";
import { useRequirementsAgain } from "./useRequirementsAgain";

interface Props {
  statement: Requirements["stated"][number];
  onClose: () => void;
}

/** Something on record was wrong: why. */
export function TakeBackDialog({ statement, onClose }: Props) {
  const [reason, setReason] = useState("");
  const again = useRequirementsAgain();
  const act = api.useMutation("post", "/api/statements/{statement_id}/take-back", {
    onSuccess: () => {
      again();
      onClose();
    },
  });
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs" aria-labelledby="take-back-title">
      <DialogTitle id="take-back-title">Take back: {statement.by}</DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 2, pt: "8px !important" }}>
        <Refusals of={problemsOf(act.error)} />
        <TextField
          size="small"
          label="Why it was wrong"
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 300 } }}
          helperText="It does not count any more, and stays on record with this reason."
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Leave it</Button>
        <Button
          variant="contained"
          disabled={reason.trim() === "" || act.isPending}
          onClick={() => act.mutate({ params: { path: { statement_id: statement.id } }, body: { reason } })}
        >
          Take it back
        </Button>
      </DialogActions>
    </Dialog>
  );
}
