import { Box, MenuItem, Table, TableBody, TableCell, TableHead, TableRow, TextField } from "@mui/material";
import type { Problem } from "../api/types";
import { NumberField } from "../sortie/plan/NumberField";
import { narrow, tokens } from "../theme";
import { WhyNumber } from "../why/WhyNumber";
import { sourceWords } from "../why/source";
import type { Field } from "./cardFields";
import { at, put } from "./paths";

export interface Stated {
  value: number;
  source: string;
  ref: string;
}
const SOURCES = ["flight manual", "placard", "measured here", "school", "common practice"];
const STANDARD_SOURCES = ["regulation", "school", "common practice"];

/** Numbers with their sources, to read. */
export function ReadRows({ document, fields, unit }: { document: unknown; fields: Field[]; unit: string }) {
  return (
    <Table size="small" sx={{ ...narrow, "& td": { py: 0.45 } }}>
      <TableBody>
        {fields.map(([path, words, of]) => {
          const stated = at(document, path) as Stated | null | undefined;
          const shown = of === "speed" ? unit : of;
          return (
            <TableRow key={path}>
              <TableCell sx={{ pl: 0 }}>{words}</TableCell>
              <TableCell align="right" sx={{ fontWeight: 680, whiteSpace: "nowrap" }}>
                {stated ? (
                  <WhyNumber
                    answer={{
                      label: words,
                      value: stated.value,
                      unit: shown,
                      shown: `${stated.value.toLocaleString("en")} ${shown}`.trim(),
                      formula: "as stated",
                      inputs: [],
                      source: { kind: stated.source as "school", words: stated.ref || stated.source },
                      levers: [],
                    }}
                  />
                ) : (
                  "not given"
                )}
              </TableCell>
              <TableCell sx={{ fontSize: 12, color: tokens.slate, pr: 0 }}>
                {stated ? sourceWords(stated) : ""}
              </TableCell>
            </TableRow>
          );
        })}
      </TableBody>
    </Table>
  );
}

interface Props<D> {
  document: D;
  fields: Field[];
  unit: string;
  problems: Problem[];
  prefix: string;
  onChange: (document: D) => void;
  standards?: boolean;
}

/** The same to change: value, where it came from, and where that says it. A problem stands at its number. */
export function EditRows<D>({
  document,
  fields,
  unit,
  problems,
  prefix,
  onChange,
  standards = false,
}: Props<D>) {
  return (
    <Table
      size="small"
      sx={{ "& td, & th": { py: 0.5, px: 0.7 }, "& .MuiInputBase-input": { py: "6px", fontSize: 14 } }}
    >
      <TableHead>
        <TableRow>
          <TableCell>Number</TableCell>
          <TableCell sx={{ width: 120 }}>Value</TableCell>
          <TableCell sx={{ width: 150 }}>Source</TableCell>
          <TableCell>Where it says so</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {fields.map(([path, words, of]) => {
          const stated = (at(document, path) as Stated | null | undefined) ?? {
            value: 0,
            source: standards ? "school" : "flight manual",
            ref: "",
          };
          const wrong = problems.filter(
            (p) => p.where.includes(`${prefix}${path}`) || p.where.endsWith(`.${path}.value`),
          );
          const set = (edit: Partial<Stated>) => onChange(put(document, path, { ...stated, ...edit }));
          return (
            <TableRow key={path} sx={wrong.length ? { bgcolor: tokens.stopPale } : undefined}>
              <TableCell>
                {words}
                {of && (
                  <Box component="span" sx={{ color: tokens.slate }}>
                    , {of === "speed" ? unit : of}
                  </Box>
                )}
                {wrong.map((p) => (
                  <Box key={p.what} role="alert" sx={{ color: tokens.stop, fontSize: 12.5, fontWeight: 620 }}>
                    {p.what}. {p.do}
                  </Box>
                ))}
              </TableCell>
              <TableCell>
                <NumberField
                  label=""
                  aria={words}
                  value={stated.value}
                  onValue={(v) => v !== null && set({ value: v })}
                />
              </TableCell>
              <TableCell>
                <TextField
                  select
                  fullWidth
                  value={stated.source}
                  onChange={(e) => set({ source: e.target.value })}
                  slotProps={{ htmlInput: { "aria-label": `${words}, source` } }}
                >
                  {(standards ? STANDARD_SOURCES : SOURCES).map((s) => (
                    <MenuItem key={s} value={s}>
                      {s}
                    </MenuItem>
                  ))}
                </TextField>
              </TableCell>
              <TableCell>
                <TextField
                  fullWidth
                  value={stated.ref}
                  onChange={(e) => set({ ref: e.target.value })}
                  slotProps={{ htmlInput: { "aria-label": `${words}, where it says so`, maxLength: 120 } }}
                />
              </TableCell>
            </TableRow>
          );
        })}
      </TableBody>
    </Table>
  );
}

/** Problems that no row has shown. */
export function unplaced(problems: Problem[], fields: Field[], prefix: string): Problem[] {
  return problems.filter(
    (p) =>
      !fields.some(([path]) => p.where.includes(`${prefix}${path}`) || p.where.endsWith(`.${path}.value`)),
  );
}
