import { Box, MenuItem, Table, TableBody, TableCell, TableHead, TableRow, TextField } from "@mui/material";
import { Controller, type Control, type FieldValues } from "react-hook-form";
import type { EstimateLine, FieldSpec, Problem, Working } from "../api/types";
import { NumberField } from "./NumberField";
import { narrow, tokens } from "../theme";
import { WhyNumber } from "../why/WhyNumber";
import { sourceWords } from "../why/source";
import { problemsAt, statedAt, unitOf, type Stated } from "./fill";
import { Wrong } from "./PlainField";

const styles = {
  source: { fontSize: 12, color: tokens.slate, pr: 0 },
} as const;

const DENSE = {
  "& td, & th": { py: 0.5, px: 0.7 },
  "& .MuiInputBase-input": { py: "6px", fontSize: 14 },
  // On a phone each number is a block of its own.
  "& thead": { display: { xs: "none", sm: "table-header-group" } },
  "& tr": { display: { xs: "grid", sm: "table-row" }, gridTemplateColumns: "1fr 1fr" },
  "& td:nth-of-type(1), & td:nth-of-type(4)": { gridColumn: "1 / -1" },
};

interface EditProps {
  fields: FieldSpec[];
  control: Control<FieldValues>;
  speedUnit?: string;
  problems: Problem[];
  /** What the server calls the document. */ in_: string;
}

/** Numbers to change: value, where it came from, and where that says it. A problem stands at its number. */
export function StatedTable({ fields, control, speedUnit = "", problems, in_ }: EditProps) {
  return (
    <Table size="small" sx={DENSE}>
      <TableHead>
        <TableRow>
          <TableCell>Number</TableCell>
          <TableCell sx={{ width: 120 }}>Value</TableCell>
          <TableCell sx={{ width: 150 }}>Source</TableCell>
          <TableCell>Where it says so</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {fields.map((field) => (
          <Controller
            key={field.path}
            name={field.path}
            control={control}
            render={({ field: { value, onChange } }) => (
              <StatedRow
                field={field}
                unit={unitOf(field, speedUnit)}
                stated={(value as Stated | null | undefined) ?? nothing(field)}
                problems={problemsAt(problems, in_, field.path)}
                onChange={onChange}
              />
            )}
          />
        ))}
      </TableBody>
    </Table>
  );
}

function nothing(field: FieldSpec): Stated {
  return { value: null, source: field.choices[0] ?? "", ref: "" };
}

interface RowProps {
  field: FieldSpec;
  unit: string;
  stated: Stated;
  problems: Problem[];
  onChange: (stated: Stated) => void;
}

function StatedRow({ field, unit, stated, problems, onChange }: RowProps) {
  const { label } = field;
  return (
    <TableRow sx={problems.length ? { bgcolor: tokens.stopPale } : undefined}>
      <TableCell>
        {label}
        {unit && (
          <Box component="span" sx={{ color: tokens.slate }}>
            , {unit}
          </Box>
        )}
        <Wrong problems={problems} />
      </TableCell>
      <TableCell>
        <NumberField
          label=""
          aria={field.under.startsWith("Spin, ") ? `${field.under}: ${label}` : label}
          optional={field.optional}
          least={field.least}
          most={field.most}
          placeholder={field.estimated ? "estimated" : field.optional ? "not given" : undefined}
          value={stated.value}
          onValue={(value) => onChange({ ...stated, value })}
        />
      </TableCell>
      <TableCell>
        <TextField
          select
          fullWidth
          value={stated.source}
          onChange={(e) => onChange({ ...stated, source: e.target.value })}
          slotProps={{ htmlInput: { "aria-label": `${label}, source` } }}
          sx={
            stated.value !== null && stated.source === "not given"
              ? { "& .MuiInputBase-input": { color: tokens.mindInk, fontWeight: 640 } }
              : undefined
          }
        >
          {field.choices.map((s) => (
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
          onChange={(e) => onChange({ ...stated, ref: e.target.value })}
          slotProps={{ htmlInput: { "aria-label": `${label}, where it says so`, maxLength: 160 } }}
        />
      </TableCell>
    </TableRow>
  );
}

interface ReadProps {
  document: unknown;
  fields: FieldSpec[];
  speedUnit?: string;
  /** Of what is blank and estimated, by its path. */ estimates?: Map<string, EstimateLine>;
}

/** The same to read. */
export function ReadRows({ document, fields, speedUnit = "", estimates }: ReadProps) {
  return (
    <Table size="small" sx={{ ...narrow, "& td": { py: 0.45 } }}>
      <TableBody>
        {fields.map((field) => {
          const stated = statedAt(document, field.path),
            estimate = estimates?.get(field.path);
          return (
            <TableRow key={field.path}>
              <TableCell sx={{ pl: 0 }}>{field.label}</TableCell>
              <TableCell align="right" sx={{ fontWeight: 680, whiteSpace: "nowrap" }}>
                {stated?.value == null ? (
                  (estimate?.shown ?? "not given")
                ) : (
                  <Said field={field} stated={stated} speedUnit={speedUnit} />
                )}
              </TableCell>
              <TableCell sx={styles.source}>
                {stated ? sourceWords(stated) : estimate ? `estimated ${estimate.between}` : ""}
              </TableCell>
            </TableRow>
          );
        })}
      </TableBody>
    </Table>
  );
}

function Said({ field, stated, speedUnit }: { field: FieldSpec; stated: Stated; speedUnit: string }) {
  const unit = unitOf(field, speedUnit),
    number = (stated.value ?? 0).toLocaleString("en");
  const as_stated: Working = {
    label: field.label,
    value: stated.value ?? 0,
    unit,
    number,
    shown: `${number} ${unit}`.trim(),
    formula: "as stated",
    inputs: [],
    source: { kind: stated.source as "school", words: stated.ref || stated.source },
    levers: [],
    pilot: [],
  };
  return <WhyNumber answer={as_stated} />;
}
