import { Box, Button, Table, TableBody, TableCell, TableHead, TableRow, Typography } from "@mui/material";
import { narrow } from "../../theme";
import { inShort, type DayProps } from "./DayNumbers";
import { useBounds } from "../../forms/bounds";
import { NumberField } from "../../forms/NumberField";

const styles = {
  winds: {
    ...narrow,
    "& td, & th": { py: 0.3, px: 0.5, border: 0 },
    "& .MuiInputBase-input": { py: "3px" },
  },
} as const;
const COLUMNS = [
  ["height_ft", "ft QNH", "height ft"],
  ["from_deg", "from °", "from degrees"],
  ["kt", "kt", "kt"],
] as const;

/** Wind at heights, where it is known. */
export function Winds({ day, editable, set }: DayProps) {
  const winds = day.winds ?? [];
  const bounds = useBounds("plan");
  const setWinds = (next: typeof winds) => set({ winds: next }, "winds");
  const added = {
    height_ft: 2000 * (winds.length + 1),
    from_deg: day.wind_from_deg ?? 0,
    kt: day.wind_kt ?? 0,
  };
  return (
    <>
      <Typography variant="h2" component="h3">
        Wind at height{" "}
        <Box component="span" sx={{ fontWeight: 400, fontSize: 12.5 }}>
          {winds.length ? inShort(day.sources?.winds ?? "typed in") : "the surface wind is used"}
        </Box>
      </Typography>
      {winds.length > 0 && (
        <Table size="small" sx={styles.winds}>
          <TableHead>
            <TableRow sx={{ "& th": { lineHeight: 1.2 } }}>
              {COLUMNS.map(([name, words]) => (
                <TableCell key={name}>{words}</TableCell>
              ))}
              <TableCell />
            </TableRow>
          </TableHead>
          <TableBody>
            {winds.map((wind, i) => (
              <TableRow key={i}>
                {COLUMNS.map(([name, , words]) => (
                  <TableCell key={name}>
                    <NumberField
                      label=""
                      aria={`Wind ${i + 1}, ${words}`}
                      {...bounds(`day.winds.${name}`)}
                      value={wind[name]}
                      disabled={!editable}
                      onValue={(v) =>
                        v !== null && setWinds(winds.map((w, k) => (k === i ? { ...w, [name]: v } : w)))
                      }
                    />
                  </TableCell>
                ))}
                <TableCell>
                  {editable && (
                    <Button
                      size="small"
                      sx={{ minWidth: 0, minHeight: 28 }}
                      aria-label={`Remove wind ${i + 1}`}
                      onClick={() => setWinds(winds.filter((_, k) => k !== i))}
                    >
                      Remove
                    </Button>
                  )}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
      {editable && winds.length < 6 && (
        <Button size="small" onClick={() => setWinds([...winds, added])} sx={{ minHeight: 32 }}>
          Add a height
        </Button>
      )}
    </>
  );
}
