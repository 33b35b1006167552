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
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useState } from "react";
import type { Conflict } from "../api/types";
import { dayAndTime } from "../frame/dates";
import type { Choice, Clash } from "./merge";

interface Props {
  conflict: Conflict;
  clashes: Clash[];
  onStore: (choose: (where: string) => Choice) => void;
  onClose: () => void;
}

/** Somebody else changed the same: of each such field a person chooses which counts. What only one of the two changed is
 * kept from each and not asked for. */
export function ConflictDialog({ conflict, clashes, onStore, onClose }: Props) {
  const [choices, setChoices] = useState<Record<string, Choice>>({});
  const all = (choice: Choice) => setChoices(Object.fromEntries(clashes.map((c) => [c.where, choice])));
  const open = clashes.filter((c) => !(c.where in choices)).length;
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md" aria-labelledby="conflict-title">
      <DialogTitle id="conflict-title">
        {conflict.by} changed the same at {dayAndTime(conflict.at)}
      </DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 1 }}>
          Choose which counts. What only one of you changed is kept from each.
        </Typography>
        <Table size="small">
          <TableHead>
            <TableRow>
              <TableCell>Field</TableCell>
              <TableCell>
                {conflict.by}{" "}
                <Button size="small" onClick={() => all("theirs")}>
                  Take all of these
                </Button>
              </TableCell>
              <TableCell>
                Yours{" "}
                <Button size="small" onClick={() => all("mine")}>
                  Take all of these
                </Button>
              </TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {clashes.map((clash) => {
              const { place, stored, yours } = inWords(clash, conflict);
              return (
                <TableRow key={clash.where}>
                  <TableCell>{place}</TableCell>
                  <TableCell colSpan={2}>
                    <ToggleButtonGroup
                      exclusive
                      fullWidth
                      aria-label={place}
                      value={choices[clash.where] ?? null}
                      onChange={(_, choice: Choice | null) =>
                        choice && setChoices({ ...choices, [clash.where]: choice })
                      }
                    >
                      <ToggleButton value="theirs">{stored}</ToggleButton>
                      <ToggleButton value="mine">{yours}</ToggleButton>
                    </ToggleButtonGroup>
                  </TableCell>
                </TableRow>
              );
            })}
          </TableBody>
        </Table>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Decide later</Button>
        <Button
          variant="contained"
          disabled={open > 0}
          onClick={() => onStore((where) => choices[where] ?? "mine")}
        >
          {open > 0 ? `Choose ${open} more` : "Store these"}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** The names of the field and of both values, as the server says them; of a whole entry, whether it is there. */
function inWords({ where, mine, theirs }: Clash, conflict: Conflict) {
  const at = where.replace(/^(aircraft|place)_id$/, "$1");
  const exactly = conflict.differences.find((d) => d.where === at);
  if (exactly) return exactly;
  const inside = conflict.differences.find((d) => d.where.startsWith(at));
  return {
    place: inside?.place.replace(/: .*$/, "") ?? at,
    stored: theirs === undefined ? "taken out" : "as changed",
    yours: mine === undefined ? "taken out" : "as changed",
  };
}
