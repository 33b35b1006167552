import {
  Autocomplete,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  TextField,
} from "@mui/material";
import type { Figure } from "../../api/types";
import { addFigure, freshId } from "../edits";
import type { SortieWork } from "../useSortie";

interface Props {
  figures: Figure[];
  work: SortieWork;
  after: string | null;
  onClose: () => void;
  onAdded: (id: string) => void;
}

/** Add by typing a few letters. */
export function AddFigure({ figures, work, after, onClose, onAdded }: Props) {
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <DialogTitle>Add a figure</DialogTitle>
      <DialogContent sx={{ minHeight: 380 }}>
        <Autocomplete
          open
          slotProps={{ listbox: { sx: { maxHeight: 280 } } }}
          onClose={(_, reason) => reason === "escape" && onClose()}
          options={figures}
          autoHighlight
          groupBy={(f) => f.family}
          getOptionLabel={(f) => f.name}
          getOptionKey={(f) => f.key}
          noOptionsText="No figure with these letters."
          onChange={(_, figure) => {
            if (!figure) return;
            const id = freshId(
              work.draft.plan.figures.map((f) => f.id),
              "f",
            );
            work.change(addFigure(figure, after, id));
            onAdded(id);
            onClose();
          }}
          renderInput={(params) => <TextField {...params} autoFocus label="Figure" sx={{ mt: 1 }} />}
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
