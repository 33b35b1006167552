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
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../api/client";
import { askAgain } from "../api/questions";
import type { DateKept, Dates } from "../api/types";
import { DayField } from "../forms/DayField";
import { Leaving, problemsOf } from "../forms/EditorDialog";
import { NumberField } from "../forms/NumberField";
import { Refusals } from "../frame/states";

const styles = {
  content: { display: "grid", gap: 2, pt: "8px !important" },
  two: { display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" } },
} as const;

interface Props {
  dates: Dates;
  /** Left out for a new one. */ kept?: DateKept;
  onClose: () => void;
}

/** Something of somebody's, or of an aircraft's, that is valid until a day. */
export function DateDialog({ dates, kept, onClose }: Props) {
  const queries = useQueryClient();
  const [of, setOf] = useState("");
  const [what, setWhat] = useState(kept?.date.what ?? "");
  const [until, setUntil] = useState(kept?.date.until);
  const [warn, setWarn] = useState<number | null>(kept?.date.warn_days ?? 30);
  const [stops, setStops] = useState(kept?.date.stops ?? true);
  const [leaving, setLeaving] = useState(false);
  const after = {
    onSuccess: () => {
      askAgain(queries, "/api/dates", "/api/today", "/api/week");
      onClose();
    },
  };
  const add = api.useMutation("post", "/api/dates", after);
  const change = api.useMutation("put", "/api/dates/{date_id}", after);
  const remove = api.useMutation("delete", "/api/dates/{date_id}", after);
  const busy = add.isPending || change.isPending || remove.isPending;
  const touched =
    what !== (kept?.date.what ?? "") ||
    until !== kept?.date.until ||
    warn !== (kept?.date.warn_days ?? 30) ||
    stops !== (kept?.date.stops ?? true);
  const leave = () => (touched ? setLeaving(true) : onClose());
  const store = () => {
    const said = { what, until: until ?? "", warn_days: warn ?? 0, stops };
    const id = kept?.id ?? null;
    if (kept && id !== null)
      change.mutate({ params: { path: { date_id: id } }, body: { version: kept.version, ...said } });
    else {
      const [kind, number] = of.split(" ");
      const whose = kind === "person" ? { person_id: Number(number) } : { aircraft_id: Number(number) };
      add.mutate({ body: { version: 1, ...whose, ...said } });
    }
  };
  const ready =
    what.trim() !== "" && until !== undefined && warn !== null && (kept !== undefined || of !== "");
  return (
    <Dialog open onClose={leave} fullWidth maxWidth="sm" aria-labelledby="date-title">
      <DialogTitle id="date-title">
        {kept ? `${kept.date.what} of ${kept.date.of}` : "A date to be kept"}
      </DialogTitle>
      <DialogContent sx={styles.content}>
        <Refusals of={problemsOf(add.error ?? change.error ?? remove.error)} />
        {!kept && (
          <TextField
            select
            size="small"
            label="Whose"
            value={of}
            onChange={(e) => setOf(e.target.value)}
            helperText="A harness, a parachute or an instrument is of the aircraft that it flies in."
          >
            {dates.aircraft.map((a) => (
              <MenuItem key={a.id} value={`aircraft ${a.id}`}>
                {a.name} {a.more}
              </MenuItem>
            ))}
            {dates.people.map((p) => (
              <MenuItem key={p.id} value={`person ${p.id}`}>
                {p.name}
              </MenuItem>
            ))}
          </TextField>
        )}
        <TextField
          size="small"
          label="What"
          value={what}
          onChange={(e) => setWhat(e.target.value)}
          placeholder="Medical, inspection, harness"
          slotProps={{ htmlInput: { maxLength: 60 } }}
        />
        <Box sx={styles.two}>
          <DayField label="Valid until" value={until} onValue={setUntil} help="Its last valid day." />
          <NumberField
            label="Said before"
            unit="days"
            least={0}
            most={400}
            value={warn}
            optional
            step={5}
            onValue={setWarn}
          />
        </Box>
        <FormControlLabel
          control={<Checkbox checked={stops} onChange={(e) => setStops(e.target.checked)} />}
          label="No flight after it: a stop in every plan, until it is renewed"
        />
      </DialogContent>
      {leaving ? (
        <Leaving onStay={() => setLeaving(false)} onDrop={onClose} />
      ) : (
        <DialogActions>
          {kept && kept.id !== null && (
            <Button
              color="error"
              disabled={busy}
              sx={{ mr: "auto" }}
              onClick={() =>
                remove.mutate({
                  params: { path: { date_id: kept.id ?? 0 }, query: { version: kept.version } },
                })
              }
            >
              Keep it no more
            </Button>
          )}
          <Button onClick={leave}>Leave it as it was</Button>
          <Button variant="contained" disabled={!ready || busy} onClick={store}>
            Store the date
          </Button>
        </DialogActions>
      )}
    </Dialog>
  );
}
