import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
} from "@mui/material";
import type { Conflict } from "../api/types";
import { dayAndTime } from "../frame/dates";

/** Somebody else stored this sortie meanwhile: nothing is overwritten until a person has seen the difference. */
export function ConflictDialog({
  conflict,
  takeTheirs,
  keepMine,
}: {
  conflict: Conflict;
  takeTheirs: () => void;
  keepMine: () => void;
}) {
  return (
    <Dialog open fullWidth maxWidth="md" aria-labelledby="conflict-title">
      <DialogTitle id="conflict-title">
        {conflict.by} changed this sortie at {dayAndTime(conflict.at)}
      </DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 1 }}>
          Yours is not stored and nothing of theirs is lost. This is what differs:
        </Typography>
        {conflict.differences.length === 0 ? (
          <Typography>Nothing differs in what you changed.</Typography>
        ) : (
          <Table size="small">
            <TableHead>
              <TableRow>
                <TableCell>Where</TableCell>
                <TableCell>Stored now</TableCell>
                <TableCell>Yours</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {conflict.differences.map((d) => (
                <TableRow key={d.where}>
                  <TableCell>{d.place}</TableCell>
                  <TableCell>{d.stored}</TableCell>
                  <TableCell>{d.yours}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={keepMine} color="error">
          Put mine on top
        </Button>
        <Button onClick={takeTheirs} variant="contained">
          Take what is stored
        </Button>
      </DialogActions>
    </Dialog>
  );
}
