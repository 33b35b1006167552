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
import type { ColumnMap, LookedAt } from "../../api/types";
import { narrow, tokens } from "../../theme";

const styles = {
  scroll: { overflowX: "auto", mt: 1.5 },
  table: {
    ...narrow,
    borderCollapse: "collapse",
    fontSize: 13.5,
    "& th, & td": {
      border: `1px solid ${tokens.hairline}`,
      px: 1,
      py: 0.6,
      textAlign: "left",
      whiteSpace: "nowrap",
    },
    "& th": { fontWeight: 660, verticalAlign: "top" },
  },
  choice: { minWidth: 150, mt: 0.8, display: "block" },
  assumed: { color: tokens.mindInk, fontWeight: 400 },
} as const;

type Column = ColumnMap["columns"][number];

interface Props {
  name: string;
  looked: LookedAt;
  columns: ColumnMap;
  close: () => void;
  read: (columns: ColumnMap) => void;
}

/** Which column of a table is what, and in which unit, over its first rows. */
export function WhichColumns({ name, looked, columns, close, read }: Props) {
  const [map, setMap] = useState(columns);
  const has = (...any: Column["column"][]) => map.columns.some((c) => any.includes(c.column));
  const missing = [
    !has("time_s") && "the time",
    !has("height_ft", "pressure_height_ft") && "a height",
  ].filter(Boolean);
  /** A column holds one thing, and a thing stands in one column. */
  const take = (header: string, column: string) => {
    const choice = looked.choices.find((c) => c.column === column);
    const rest = map.columns.filter((c) => c.header !== header && c.column !== column);
    const taken = choice && { header, column: choice.column, unit: choice.units[0] ?? "", sure: true };
    setMap({ ...map, columns: taken ? [...rest, taken] : rest });
  };
  const inUnit = (header: string, unit: string) =>
    setMap({
      ...map,
      columns: map.columns.map((c) => (c.header === header ? { ...c, unit, sure: true } : c)),
    });
  return (
    <Dialog open onClose={close} maxWidth="lg" fullWidth>
      <DialogTitle sx={{ overflowWrap: "anywhere" }}>Which column is what in {name}?</DialogTitle>
      <DialogContent>
        <Typography>
          {missing.length > 0
            ? `Choose which column is ${missing.join(" and ")}.`
            : "Look whether each unit is right; the answer is kept for this device."}
        </Typography>
        <TextField
          select
          size="small"
          label="Decimal mark"
          value={map.decimal}
          sx={{ mt: 1.5, minWidth: 130 }}
          onChange={(e) => setMap({ ...map, decimal: e.target.value })}
        >
          {[".", ","]
            .filter((mark) => mark !== map.separator)
            .map((mark) => (
              <MenuItem key={mark} value={mark}>
                {mark === "." ? "point" : "comma"}
              </MenuItem>
            ))}
        </TextField>
        <Box sx={styles.scroll} tabIndex={0} role="region" aria-label="First rows">
          <Box component="table" sx={styles.table}>
            <thead>
              <tr>
                {looked.headers.map((header) => {
                  const held = map.columns.find((c) => c.header === header);
                  const units = looked.choices.find((c) => c.column === held?.column)?.units ?? [];
                  return (
                    <th key={header} scope="col">
                      {header}{" "}
                      {held && !held.sure && (
                        <Box component="span" sx={styles.assumed}>
                          unit assumed
                        </Box>
                      )}
                      <TextField
                        select
                        size="small"
                        fullWidth
                        label={`${header} is`}
                        sx={styles.choice}
                        value={held?.column ?? ""}
                        onChange={(e) => take(header, e.target.value)}
                      >
                        <MenuItem value="">not read</MenuItem>
                        {looked.choices.map((c) => (
                          <MenuItem key={c.column} value={c.column}>
                            {c.label}
                          </MenuItem>
                        ))}
                      </TextField>
                      {held && (
                        <TextField
                          select
                          size="small"
                          fullWidth
                          label={`${header} in`}
                          sx={styles.choice}
                          value={held.unit}
                          onChange={(e) => inUnit(header, e.target.value)}
                        >
                          {units.map((unit) => (
                            <MenuItem key={unit} value={unit}>
                              {unit}
                            </MenuItem>
                          ))}
                        </TextField>
                      )}
                    </th>
                  );
                })}
              </tr>
            </thead>
            <tbody>
              {looked.rows.map((row, i) => (
                <tr key={i}>
                  {looked.headers.map((header, at) => (
                    <td key={header}>{row[at] ?? ""}</td>
                  ))}
                </tr>
              ))}
            </tbody>
          </Box>
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Leave it</Button>
        <Button variant="contained" disabled={missing.length > 0} onClick={() => read(map)}>
          Read it so
        </Button>
      </DialogActions>
    </Dialog>
  );
}
