import {
  Autocomplete,
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  TextField,
} from "@mui/material";
import { tokens } from "../theme";

const styles = {
  content: { minHeight: 380 },
  group: { fontWeight: 650, color: tokens.slate, px: 2, pt: 1 },
  options: { listStyle: "none", p: 0 },
} as const;

interface Props<T> {
  title: string;
  label: string;
  options: readonly T[];
  loading?: boolean;
  group: (option: T) => string;
  name: (option: T) => string;
  keyOf: (option: T) => string;
  /** Said when nothing has these letters. */ none: string;
  onPick: (option: T) => void;
  onClose: () => void;
}

/** One of many, chosen by typing a few letters. */
export function PickDialog<T>(props: Props<T>) {
  const { title, label, options, loading, group, name, keyOf, none, onPick, onClose } = props;
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-label={title}>
      <DialogTitle>{title}</DialogTitle>
      <DialogContent sx={styles.content}>
        <Autocomplete
          open
          options={options}
          loading={loading}
          autoHighlight
          groupBy={group}
          getOptionLabel={name}
          getOptionKey={keyOf}
          noOptionsText={none}
          onClose={(_, reason) => reason === "escape" && onClose()}
          onChange={(_, option) => {
            if (!option) return;
            onPick(option);
            onClose();
          }}
          renderGroup={({ key, group: words, children }) => (
            <li key={key} role="presentation">
              <Box sx={styles.group}>{words}</Box>
              <Box component="ul" role="group" aria-label={words} sx={styles.options}>
                {children}
              </Box>
            </li>
          )}
          renderInput={(params) => <TextField {...params} autoFocus label={label} sx={{ mt: 1 }} />}
          slotProps={{
            listbox: { sx: { maxHeight: 260 } },
            // Below the field whatever the room: the dialog scrolls.
            popper: { disablePortal: true, modifiers: [{ name: "flip", enabled: false }] },
          }}
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
