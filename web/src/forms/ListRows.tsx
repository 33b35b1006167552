import { Box, Button, Typography } from "@mui/material";
import { useFieldArray, type Control, type FieldValues } from "react-hook-form";
import type { FieldSpec, Problem } from "../api/types";
import { problemsAt } from "./fill";
import { PlainField } from "./PlainField";

const styles = {
  list: { display: "grid", gap: 1, mt: 1 },
} as const;

interface Props {
  field: FieldSpec;
  control: Control<FieldValues>;
  speedUnit?: string;
  problems: Problem[];
  in_: string;
}

/** Rows of the same fields: seats, tanks, fields to land in. As many as the document allows. */
export function ListRows({ field, control, speedUnit, problems, in_ }: Props) {
  const { fields: rows, append, remove } = useFieldArray({ control, name: field.path });
  const fixed = field.least_rows === field.most_rows;
  return (
    <Box component="section" aria-label={field.label} sx={styles.list}>
      <Typography component="h3" sx={{ fontWeight: 680 }}>
        {field.label}
      </Typography>
      {rows.map((row, i) => (
        <Box
          key={row.id}
          sx={{
            display: "grid",
            gap: 1,
            gridTemplateColumns: {
              xs: "repeat(auto-fill, minmax(120px, 1fr))",
              md: `repeat(${field.of.length}, minmax(0, 1fr)) auto`,
            },
          }}
        >
          {field.of.map((of) => (
            <PlainField
              key={of.path}
              field={of}
              path={`${field.path}.${i}.${of.path}`}
              control={control}
              speedUnit={speedUnit}
              problems={problemsAt(problems, in_, `${field.path}.${i}.${of.path}`)}
            />
          ))}
          {fixed ? (
            <span />
          ) : (
            <Button
              disabled={rows.length <= field.least_rows}
              aria-label={`Remove row ${i + 1} of ${field.label}`}
              onClick={() => remove(i)}
            >
              Remove
            </Button>
          )}
        </Box>
      ))}
      {!fixed && (
        <Button
          sx={{ justifySelf: "start" }}
          aria-label={`Add a row: ${field.label}`}
          disabled={field.most_rows != null && rows.length >= field.most_rows}
          onClick={() => append(Object.fromEntries(field.of.map((of) => [of.path, emptyOf(of)])))}
        >
          Add a row
        </Button>
      )}
    </Box>
  );
}

function emptyOf(field: FieldSpec): unknown {
  return { text: "", switch: false }[field.enter as "text" | "switch"] ?? null;
}
