import {
  Alert,
  Box,
  Button,
  Checkbox,
  FormControlLabel,
  LinearProgress,
  Paper,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { answered, Failed, server } from "../../api/client";
import type { Difference, Fit } from "../../api/types";
import { Key } from "../../frame/Key";
import { useCommands } from "../../frame/commands";
import { Trouble } from "../../frame/states";
import { tokens } from "../../theme";
import { acceptFit } from "../edits";
import type { SortieWork } from "../useSortie";

const styles = {
  panel: {
    border: `2px solid ${tokens.best}`,
    height: 318,
    p: 1.5,
    display: "flex",
    flexDirection: "column",
  },
  why: { fontSize: 14, color: tokens.slate, mb: 0.5 },
  difference: {
    display: "flex",
    breakInside: "avoid",
    mr: 0,
    "& .MuiFormControlLabel-label": { fontSize: 13.5, lineHeight: 1.25 },
  },
  actions: { display: "flex", gap: 1, mt: 1 },
} as const;

export interface FitWork {
  open: boolean;
  waiting: boolean;
  found: Fit | null;
  failed: unknown;
  ask: () => void;
  close: () => void;
}

/** "Fit it": a proposal is asked for, shown, and taken whole, in part, or not. A change of the plan meanwhile makes it void. */
export function useFit(work: SortieWork, editable: boolean): FitWork {
  const [state, setState] = useState<{
    of: string;
    waiting: boolean;
    found: Fit | null;
    failed: unknown;
  } | null>(null);
  const { draft, sortie } = work;
  const now = JSON.stringify([draft.plan, draft.aircraft_id, draft.place_id]);
  const open = state !== null && state.of === now;
  const ask = () => {
    if (!editable || draft.plan.figures.length === 0) return;
    setState({ of: now, waiting: true, found: null, failed: null });
    answered(
      server.POST("/api/sorties/{sortie_id}/fit", {
        params: { path: { sortie_id: sortie.id } },
        body: { plan: draft.plan, aircraft_id: draft.aircraft_id, place_id: draft.place_id },
      }),
    )
      .then((found) =>
        setState((s) => (s?.of === now ? { of: now, waiting: false, found, failed: null } : s)),
      )
      .catch((failed: unknown) =>
        setState((s) => (s?.of === now ? { of: now, waiting: false, found: null, failed } : s)),
      );
  };
  return {
    open,
    waiting: open && state.waiting,
    found: open ? state.found : null,
    failed: open ? state.failed : null,
    ask,
    close: () => setState(null),
  };
}

const key = (d: Difference) => `${d.kind} ${d.figure ?? ""}`;

export function FitPanel({ fit, work }: { fit: FitWork; work: SortieWork }) {
  const { found } = fit;
  const differences = found?.differences ?? [];
  const [leaving, setLeaving] = useState<{ of: Fit | null; keys: string[] }>({ of: null, keys: [] });
  const left = leaving.of === found ? leaving.keys : [];
  const setLeft = (keys: string[]) => setLeaving({ of: found, keys });
  const chosen = differences.filter((d) => !left.includes(key(d)));
  const accept = () => {
    if (found?.plan && chosen.length > 0) work.change(acceptFit(found.plan, chosen));
    fit.close();
  };
  useCommands({ accept: accept, leave: fit.close });
  return (
    <Paper component="section" aria-label="Proposal" sx={styles.panel}>
      {fit.waiting && (
        <Box role="status">
          <Typography>Trying orders and heights…</Typography>
          <LinearProgress aria-label="Trying orders and heights" sx={{ mt: 1 }} />
        </Box>
      )}
      {fit.failed !== null && (
        <>
          <Trouble
            error={fit.failed}
            again={fit.failed instanceof Failed && fit.failed.status === 422 ? undefined : fit.ask}
          />
          <Button onClick={fit.close} sx={{ alignSelf: "start" }}>
            Back
            <Key of="leave" />
          </Button>
        </>
      )}
      {found && (
        <>
          <Typography variant="h2" sx={{ color: tokens.best }}>
            {found.fits ? (differences.length ? "This would fit" : "It fits as it is") : "Nothing fits"}
          </Typography>
          {found.headline && (
            <Typography sx={{ fontSize: 18, fontWeight: 720 }}>
              The smallest way out: {found.headline}.
            </Typography>
          )}
          <Typography sx={styles.why}>{found.why}</Typography>
          <Box sx={{ overflow: "auto", flex: 1, columns: differences.length > 5 ? 2 : 1 }}>
            {differences.map((d) => (
              <FormControlLabel
                key={key(d)}
                sx={styles.difference}
                label={d.words}
                control={
                  <Checkbox
                    size="small"
                    sx={{ py: 0.4 }}
                    checked={!left.includes(key(d))}
                    onChange={(e) =>
                      setLeft(e.target.checked ? left.filter((k) => k !== key(d)) : [...left, key(d)])
                    }
                  />
                }
              />
            ))}
          </Box>
          {!found.fits && (
            <Alert severity="info" sx={{ py: 0 }}>
              Choose a deeper block, fly fewer figures, or change the aircraft.
            </Alert>
          )}
          <Box sx={styles.actions}>
            {differences.length > 0 && (
              <Button variant="contained" onClick={accept} disabled={chosen.length === 0}>
                {chosen.length === differences.length
                  ? "Accept"
                  : `Accept ${chosen.length} of ${differences.length}`}
                <Key of="accept" pale />
              </Button>
            )}
            <Button onClick={fit.close}>
              {differences.length > 0 ? "Leave it as it was" : "Back"}
              <Key of="leave" />
            </Button>
          </Box>
        </>
      )}
    </Paper>
  );
}
