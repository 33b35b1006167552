import { Alert, Button, Dialog, DialogActions, DialogContent, DialogTitle } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, Failed, inOneLine, server } from "../api/client";
import { STANDARDS } from "./cardFields";
import { EditRows, unplaced } from "./StatedRows";

type Held = Awaited<ReturnType<typeof readStandards>>;
export const readStandards = () => answered(server.GET("/api/standards"));

/** The school's standards, each with its source. */
export function StandardsEditor({ held, onClose }: { held: Held; onClose: () => void }) {
  const [standards, setStandards] = useState(held.standards);
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: () => answered(server.PUT("/api/standards", { body: { version: held.version, standards } })),
    onSuccess: () => {
      void queries.invalidateQueries();
      onClose();
    },
  });
  const problems = save.error instanceof Failed ? save.error.problems : [];
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md">
      <DialogTitle>School standards</DialogTitle>
      <DialogContent>
        {problems.length > 0 && (
          <Alert severity="error" sx={{ mb: 1 }}>
            Not stored.
            {unplaced(problems, STANDARDS, "standards.").map((p) => (
              <div key={p.what}>{inOneLine(p)}</div>
            ))}
          </Alert>
        )}
        <EditRows
          document={standards}
          fields={STANDARDS}
          unit=""
          problems={problems}
          prefix="standards."
          onChange={setStandards}
          standards
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Leave them as they were</Button>
        <Button variant="contained" disabled={save.isPending} onClick={() => save.mutate()}>
          Store the standards
        </Button>
      </DialogActions>
    </Dialog>
  );
}
