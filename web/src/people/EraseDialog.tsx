import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  Radio,
  RadioGroup,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { api } from "../api/client";
import type { PersonLine, WouldGo } from "../api/types";
import { DayField } from "../forms/DayField";
import { Loading, Trouble } from "../frame/states";
import { usePeopleAgain } from "./usePeopleAgain";

const styles = { content: { display: "grid", gap: 2, pt: "8px !important" } } as const;

/** Erasing somebody: what goes, what has to be kept and until when, decided by the chief with their password. */
export function EraseDialog({ person, onClose }: { person: PersonLine; onClose: () => void }) {
  const path = { person_id: person.id };
  const shown = api.useQuery("get", "/api/people/{person_id}/erasing", { params: { path } });
  const [keep, setKeep] = useState(true);
  const [until, setUntil] = useState<string | undefined>(undefined);
  const [reason, setReason] = useState("");
  const [password, setPassword] = useState("");
  const act = api.useMutation("post", "/api/people/{person_id}/erase", usePeopleAgain(onClose));
  const signed = shown.data?.signed ?? 0;
  const kept = signed > 0 && keep;
  const ready = reason.trim().length >= 3 && password !== "" && (!kept || until !== undefined);
  const erase = () =>
    act.mutate({ params: { path }, body: { reason, password, kept_until: kept ? (until ?? null) : null } });
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="erase-title">
      <DialogTitle id="erase-title">Erase {person.name}</DialogTitle>
      <DialogContent sx={styles.content}>
        {shown.isPending && <Loading what="what would go" />}
        {shown.isError && <Trouble error={shown.error} />}
        {act.isError && <Trouble error={act.error} />}
        {shown.data && (
          <>
            <Typography>
              {whatGoes(shown.data)} It cannot be taken back; backups have it until they are let go. That it
              was done stays in the chain, without the name.
            </Typography>
            {shown.data.others > 0 && (
              <Typography>
                Their name stays in {shown.data.others} signed records of others, as the instructor.
              </Typography>
            )}
            {signed > 0 && (
              <RadioGroup value={keep ? "keep" : "go"} onChange={(e) => setKeep(e.target.value === "keep")}>
                <FormControlLabel
                  value="keep"
                  control={<Radio />}
                  label={`The ${signed} signed records have to be kept until a day`}
                />
                <FormControlLabel
                  value="go"
                  control={<Radio />}
                  label={`The ${signed} signed records go too, now`}
                />
              </RadioGroup>
            )}
            {kept && (
              <DayField
                label="Kept until"
                value={until}
                onValue={setUntil}
                help="How long training records have to be kept is for your authority to say."
              />
            )}
            <TextField
              label="Why"
              required
              value={reason}
              onChange={(e) => setReason(e.target.value)}
              helperText="Stays on the record; without the name."
              slotProps={{ htmlInput: { maxLength: 300 } }}
            />
            <TextField
              label="Your password"
              type="password"
              required
              autoComplete="current-password"
              value={password}
              onChange={(e) => setPassword(e.target.value)}
            />
          </>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Erase nothing</Button>
        <Button variant="contained" color="error" disabled={!ready || act.isPending} onClick={erase}>
          Erase {person.name}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function whatGoes({ open_sorties, recordings }: WouldGo): string {
  const more = [
    open_sorties > 0 ? `${open_sorties} sorties that are not signed` : "",
    recordings > 0 ? `${recordings} recordings` : "",
  ].filter(Boolean);
  return `Name, log-in, weight and goal go${more.length ? `, and ${more.join(" and ")}` : ""}.`;
}
