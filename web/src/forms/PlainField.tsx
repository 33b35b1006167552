import { Box, Checkbox, FormControlLabel, MenuItem, TextField } from "@mui/material";
import { Controller, type Control, type FieldValues } from "react-hook-form";
import type { FieldSpec, Problem } from "../api/types";
import { NumberField } from "./NumberField";
import { tokens } from "../theme";
import { unitOf } from "./fill";

const styles = {
  problem: { color: tokens.stop, fontSize: 12.5, fontWeight: 620 },
} as const;

interface Props {
  field: FieldSpec;
  control: Control<FieldValues>;
  /** Where in the document, when the field is of a row of a list. */ path?: string;
  speedUnit?: string;
  problems?: Problem[];
}

/** One thing that is typed, chosen or switched. */
export function PlainField({ field, control, path = field.path, speedUnit = "", problems = [] }: Props) {
  return (
    <Box sx={isLong(field) ? { gridColumn: "1 / -1" } : undefined}>
      <Controller
        name={path}
        control={control}
        render={({ field: { value, onChange } }) => (
          <Entered field={field} value={value as unknown} onChange={onChange} speedUnit={speedUnit} />
        )}
      />
      <Wrong problems={problems} />
    </Box>
  );
}

interface EnteredProps {
  field: FieldSpec;
  value: unknown;
  onChange: (value: unknown) => void;
  speedUnit: string;
}

function Entered({ field, value, onChange, speedUnit }: EnteredProps) {
  if (field.enter === "number")
    return (
      <NumberField
        label={field.label}
        unit={unitOf(field, speedUnit)}
        optional={field.optional}
        least={field.least}
        most={field.most}
        placeholder={field.optional ? "none" : undefined}
        value={(value as number | null | undefined) ?? null}
        onValue={onChange}
      />
    );
  if (field.enter === "switch")
    return (
      <FormControlLabel
        label={field.label}
        control={
          <Checkbox size="small" checked={value === true} onChange={(e) => onChange(e.target.checked)} />
        }
      />
    );
  if (field.enter === "choice")
    return (
      <TextField
        select
        fullWidth
        label={field.label}
        value={value ?? field.choices[0] ?? ""}
        onChange={(e) => onChange(e.target.value)}
      >
        {field.choices.map((choice) => (
          <MenuItem key={choice} value={choice}>
            {choice}
          </MenuItem>
        ))}
      </TextField>
    );
  if (field.enter === "choices")
    return (
      <TextField
        select
        fullWidth
        label={field.label}
        value={value ?? []}
        onChange={(e) => onChange(e.target.value)}
        slotProps={{
          select: {
            multiple: true,
            displayEmpty: true,
            renderValue: () => ((value as string[] | undefined) ?? []).join("; ") || "none",
          },
          inputLabel: { shrink: true },
        }}
      >
        {field.choices.map((choice) => (
          <MenuItem key={choice} value={choice}>
            {choice}
          </MenuItem>
        ))}
      </TextField>
    );
  if (field.enter === "lines")
    return (
      <TextField
        multiline
        fullWidth
        minRows={2}
        label={field.label}
        value={((value as string[] | undefined) ?? []).join("\n")}
        onChange={(e) => onChange(e.target.value === "" ? [] : e.target.value.split("\n"))}
      />
    );
  return (
    <TextField
      fullWidth
      multiline={isLong(field)}
      label={field.label}
      value={value ?? ""}
      onChange={(e) => onChange(e.target.value)}
      slotProps={{ htmlInput: { maxLength: field.most_letters ?? undefined } }}
    />
  );
}

/** Text that wants the whole width. */
export function isLong(field: FieldSpec): boolean {
  return field.enter === "lines" || (field.most_letters ?? 0) > 200;
}

/** What is wrong at a field and what to do, said there. */
export function Wrong({ problems }: { problems: Problem[] }) {
  return problems.map((p) => (
    <Box key={p.what} role="alert" sx={styles.problem}>
      {p.what}. {p.do}
    </Box>
  ));
}
