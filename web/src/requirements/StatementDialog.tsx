import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  MenuItem,
  TextField,
} from "@mui/material";
import { useState } from "react";
import { api } from "../api/client";
import type { Requirements } from "../api/types";
import { Leaving, problemsOf } from "../forms/EditorDialog";
import { DayField } from "../forms/DayField";
import { NumberField } from "../forms/NumberField";
import { Refusals } from "../frame/states";
import { useRequirementsAgain } from "./useRequirementsAgain";

const styles = {
  content: { display: "grid", gap: 2, pt: "8px !important" },
  two: { display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" } },
} as const;

interface Props {
  found: Requirements;
  requirement: string;
  onClose: () => void;
}
type What = Requirements["standings"][number]["lines"][number]["what"];

/** Somebody's word toward a requirement, put on record: a signature, or what was flown or taught elsewhere. */
export function StatementDialog({ found, requirement, onClose }: Props) {
  const standing = found.standings.find((s) => s.requirement.key === requirement);
  const lines = standing?.lines ?? [];
  const signature = lines.find((l) => l.what === "signature") ?? lines[0];
  const [what, setWhat] = useState<What>(signature?.what ?? "signature");
  const [amount, setAmount] = useState<number | null>(null);
  const [on, setOn] = useState<string | undefined>(undefined);
  const [by, setBy] = useState("");
  const [words, setWords] = useState("");
  const [leaving, setLeaving] = useState(false);
  const again = useRequirementsAgain();
  const act = api.useMutation("post", "/api/requirements/{person_id}", {
    onSuccess: () => {
      again();
      onClose();
    },
  });
  const counts = what !== "signature" && what !== "recent";
  const touched = by !== "" || words !== "" || amount !== null || on !== undefined;
  const ready = on !== undefined && by.trim() !== "" && (!counts || (amount ?? 0) > 0);
  return (
    <Dialog
      open
      onClose={() => (touched ? setLeaving(true) : onClose())}
      fullWidth
      maxWidth="sm"
      aria-labelledby="statement-title"
    >
      <DialogTitle id="statement-title">
        {standing?.requirement.name}: put on record for {found.name}
      </DialogTitle>
      <DialogContent sx={styles.content}>
        <Refusals of={problemsOf(act.error)} />
        <Box sx={styles.two}>
          <TextField
            select
            size="small"
            label="What"
            value={what}
            onChange={(e) => setWhat(e.target.value as What)}
          >
            {lines.map((l) => (
              <MenuItem key={l.what} value={l.what}>
                {NAMES[l.what]}
              </MenuItem>
            ))}
          </TextField>
          <DayField label="On" value={on} onValue={setOn} />
        </Box>
        {counts && (
          <NumberField
            label={what === "flights" ? "How many" : "Hours"}
            unit={what === "flights" ? "" : "h"}
            least={0}
            most={20000}
            value={amount}
            optional
            step={what === "flights" ? 1 : 0.5}
            onValue={setAmount}
          />
        )}
        <TextField
          size="small"
          label="Signed by, and as what"
          value={by}
          onChange={(e) => setBy(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 120 } }}
          helperText="Who gave it, as they are known where they did. It stays on record with your name beside it."
        />
        <TextField
          size="small"
          label="Where it stands, in a word"
          value={words}
          onChange={(e) => setWords(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 300 } }}
        />
      </DialogContent>
      {leaving ? (
        <Leaving onStay={() => setLeaving(false)} onDrop={onClose} />
      ) : (
        <DialogActions>
          <Button onClick={() => (touched ? setLeaving(true) : onClose())}>Leave it</Button>
          <Button
            variant="contained"
            disabled={!ready || act.isPending}
            onClick={() =>
              act.mutate({
                params: { path: { person_id: found.person_id } },
                body: {
                  requirement,
                  what,
                  amount: counts ? (amount ?? 0) : 0,
                  on: on ?? "",
                  signed_by: by,
                  words,
                },
              })
            }
          >
            Put it on record
          </Button>
        </DialogActions>
      )}
    </Dialog>
  );
}

const NAMES: Record<What, string> = {
  signature: "A signature",
  flight: "Hours flown elsewhere",
  ground: "Hours on the ground elsewhere",
  flights: "Flights elsewhere",
  recent: "A flight elsewhere",
};
