import {
  Box,
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  LinearProgress,
  MenuItem,
  TextField,
  Typography,
} from "@mui/material";
import type { ReadAgain, Recorded } from "../../api/types";
import { Trouble } from "../../frame/states";
import { narrow, tokens } from "../../theme";
import type { SortieWork } from "../useSortie";
import { useReadOtherwise } from "./useReadAgain";

const styles = {
  said: { ...narrow, color: tokens.slate, fontSize: 13 },
  list: { m: 0, pl: 2.2, fontSize: 14, "& li": { mb: 0.5 } },
  step: { display: "flex", m: 0, "& .MuiTypography-root": { fontSize: 14 } },
} as const;

interface HowReadProps {
  one: Recorded;
  work: SortieWork;
  close: () => void;
  otherwise: (() => void) | undefined;
  aside: (() => void) | undefined;
}

/** What was done to it, what could not be read, what cannot be judged, and how sure each name is. */
export function HowRead({ one, work, close, otherwise, aside }: HowReadProps) {
  const { flight } = one;
  const again = useReadOtherwise(work, one);
  const may = work.sortie.may.note && !one.set_aside;
  const read = (change: Partial<ReadAgain>) =>
    again.read({ flight: flight.flight, without: flight.without, figures: flight.marks, ...change });
  const lists: [string, string[]][] = [
    [
      "Figures",
      flight.figures.map((f) => {
        const sure = f.sure >= 0.95 ? "sure" : `${Math.round(100 * f.sure)} % sure`;
        const other = f.could_be[0] && f.sure < 0.95 ? `; or ${f.could_be[0].title}` : "";
        const place = f.place === "planned" ? "" : `, ${f.place === "again" ? "flown again" : "not planned"}`;
        return `${f.title}${place}: ${sure}${other}`;
      }),
    ],
    ["Not judged", flight.missing],
    [
      "Not read",
      flight.problems.map((p) => {
        const where = [p.line !== null && `line ${p.line}`, p.header].filter(Boolean).join(", ");
        return `${where}: ${p.what}. ${p.do}`;
      }),
    ],
    [
      "Columns",
      (flight.columns?.columns ?? [])
        .filter((c) => c.header !== c.column || !c.sure)
        .map((c) => `${c.header}: ${c.column} in ${c.unit}${c.sure ? "" : " (assumed)"}`),
    ],
  ];
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm">
      <DialogTitle sx={{ overflowWrap: "anywhere" }}>{one.name}</DialogTitle>
      <DialogContent>
        <Typography sx={{ ...styles.said, overflowWrap: "anywhere" }}>
          {flight.rows.toLocaleString("en")} rows
          {flight.flights > 1 && ` in ${flight.flights} flights, number ${flight.flight} is read`}; read in by{" "}
          {one.by}; SHA-256 {one.digest}
        </Typography>
        {again.reading && <LinearProgress aria-label="Read again" sx={{ mt: 1 }} />}
        {again.error != null && <Trouble error={again.error} />}
        {flight.flights > 1 && (
          <TextField
            select
            fullWidth
            size="small"
            label="Flight of the file"
            value={flight.flight}
            disabled={!may || again.reading}
            onChange={(e) => read({ flight: Number(e.target.value), figures: [] })}
            sx={{ mt: 1.5 }}
          >
            {Array.from({ length: flight.flights }, (_, n) => (
              <MenuItem key={n} value={n + 1}>
                {n + 1} of {flight.flights}
              </MenuItem>
            ))}
          </TextField>
        )}
        {flight.cleaned.length > 0 && (
          <Box sx={{ mt: 1.5 }}>
            <Typography variant="h2" component="h3">
              Done to it
            </Typography>
            {flight.cleaned.map((step) => (
              <FormControlLabel
                key={step.key}
                sx={styles.step}
                label={step.words}
                control={
                  <Checkbox
                    size="small"
                    checked={step.done}
                    disabled={!may || again.reading || !step.optional}
                    onChange={(_, on) =>
                      read({
                        without: on
                          ? flight.without.filter((key) => key !== step.key)
                          : [...flight.without, step.key],
                      })
                    }
                  />
                }
              />
            ))}
          </Box>
        )}
        {flight.marks.length > 0 && (
          <Box sx={{ mt: 1.5 }}>
            <Typography sx={styles.said}>
              Its figures stand as an instructor marked them, not as they were found.
            </Typography>
            {may && (
              <Button size="small" disabled={again.reading} onClick={() => read({ figures: [] })}>
                As they were found
              </Button>
            )}
          </Box>
        )}
        {lists
          .filter(([, lines]) => lines.length > 0)
          .map(([words, lines]) => (
            <Box key={words} sx={{ mt: 1.5 }}>
              <Typography variant="h2" component="h3">
                {words}
              </Typography>
              <Box component="ul" sx={styles.list}>
                {lines.map((line) => (
                  <li key={line}>{line}</li>
                ))}
              </Box>
            </Box>
          ))}
      </DialogContent>
      <DialogActions>
        <Button component="a" href={`/api/sorties/${work.sortie.id}/recordings/${one.id}/file`}>
          The file as it came
        </Button>
        {otherwise && <Button onClick={otherwise}>Read it otherwise…</Button>}
        {aside && <Button onClick={aside}>Take its numbers back</Button>}
        <Button variant="contained" onClick={close}>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}
