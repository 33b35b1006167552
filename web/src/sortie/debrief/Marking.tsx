import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  MenuItem,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { useCatalogue } from "../../api/questions";
import type { FigureFound, Mark, PlannedFigure } from "../../api/types";
import { NumberField } from "../../forms/NumberField";
import { tokens } from "../../theme";
import { marksOf, merged, renamed, shifted, split, without } from "./marks";

const styles = {
  fields: { display: "grid", gap: 2, pt: "8px !important" },
  edges: { display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1.5 },
} as const;

interface Props {
  figures: readonly FigureFound[];
  at: number;
  plan: readonly PlannedFigure[];
  titles: Record<string, string>;
  onMark: (marks: Mark[]) => void;
  onClose: () => void;
}

/** What the recording has here, as the instructor says: which figure, from where to where, two or one, or none. */
export function Marking({ figures, at, plan, titles, onMark, onClose }: Props) {
  const catalogue = useCatalogue().data;
  const found = figures[at];
  const [name, setName] = useState(found?.planned ? `plan ${found.planned}` : `other ${found?.key ?? ""}`);
  const [side, setSide] = useState<Mark["side"]>(found?.side ?? "left");
  const [edges, setEdges] = useState({ begins: 0, ends: 0, cut: null as number | null });
  if (!found) return null;
  const marks = marksOf(figures);
  const { begins_s, ends_s, lowest_s } = found.measured;
  const give = (changed: Mark[]) => {
    onMark(changed);
    onClose();
  };
  const store = () => {
    const space = name.indexOf(" ");
    const [kind, id] = [name.slice(0, space), name.slice(space + 1)];
    const key = kind === "plan" ? (plan.find((f) => f.id === id)?.key ?? found.key) : id;
    const called = renamed(marks, at, { key, side, planned: kind === "plan" ? id : null });
    give(shifted(called, at, begins_s + edges.begins, ends_s + edges.ends));
  };
  const next = figures[at + 1];
  const lasts = ends_s - begins_s;
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>What was flown here?</DialogTitle>
      <DialogContent sx={styles.fields}>
        <Typography sx={{ color: tokens.slate }}>
          Found: {found.title}, {Math.round(found.sure * 100)} of 100 sure, {lasts.toFixed(1)} s long. The
          recording is measured again from what you say; what a hand noted stays.
        </Typography>
        <TextField select label="Figure" value={name} onChange={(e) => setName(e.target.value)}>
          {plan.map((f) => (
            <MenuItem key={f.id} value={`plan ${f.id}`}>
              {titles[f.id] ?? f.key}, of the plan
            </MenuItem>
          ))}
          {(catalogue?.figures ?? []).map((f) => (
            <MenuItem key={f.key} value={`other ${f.key}`}>
              {f.name}, not planned
            </MenuItem>
          ))}
        </TextField>
        <TextField select label="Side" value={side} onChange={(e) => setSide(e.target.value as Mark["side"])}>
          <MenuItem value="left">left</MenuItem>
          <MenuItem value="right">right</MenuItem>
        </TextField>
        <Box sx={styles.edges}>
          <NumberField
            label="Begins later by"
            unit="s"
            step={0.5}
            least={-60}
            most={lasts - 1}
            value={edges.begins}
            onValue={(v) => setEdges({ ...edges, begins: v ?? 0 })}
          />
          <NumberField
            label="Ends later by"
            unit="s"
            step={0.5}
            least={1 - lasts}
            most={60}
            value={edges.ends}
            onValue={(v) => setEdges({ ...edges, ends: v ?? 0 })}
          />
        </Box>
        <NumberField
          label="Cut after its beginning, for two of it"
          unit="s"
          optional
          step={0.5}
          least={1}
          most={Math.max(1, lasts - 1)}
          placeholder={`lowest after ${(lowest_s - begins_s).toFixed(1)} s`}
          value={edges.cut}
          onValue={(cut) => setEdges({ ...edges, cut })}
        />
      </DialogContent>
      <DialogActions sx={{ flexWrap: "wrap" }}>
        <Button onClick={() => give(without(marks, at))}>No figure</Button>
        {next && <Button onClick={() => give(merged(marks, at))}>One with the next</Button>}
        <Button
          disabled={edges.cut === null}
          onClick={() => edges.cut !== null && give(split(marks, at, begins_s + edges.cut))}
        >
          Make it two
        </Button>
        <Button onClick={onClose}>Leave it as it was</Button>
        <Button variant="contained" onClick={store}>
          Measure again
        </Button>
      </DialogActions>
    </Dialog>
  );
}
