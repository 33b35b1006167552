import { Box, Typography } from "@mui/material";
import type { Control, FieldValues } from "react-hook-form";
import type { FieldSpec, Problem } from "../api/types";
import { byHeading, problemsAt } from "./fill";
import { ListRows } from "./ListRows";
import { PlainField } from "./PlainField";
import { StatedTable } from "./StatedTable";

interface Props {
  fields: FieldSpec[];
  control: Control<FieldValues>;
  speedUnit?: string;
  problems: Problem[];
  in_: string;
  columns?: number;
}

/** Every field under its heading: what is typed, then numbers with their sources, then lists. */
export function Sections({ fields, columns = 4, ...rest }: Props) {
  return byHeading(fields).map(([heading, group]) => (
    <Box component="section" key={heading} aria-label={heading || "General"}>
      {heading && <Typography variant="h2">{heading}</Typography>}
      <Plain
        fields={group.filter((f) => !["stated", "list"].includes(f.enter))}
        columns={columns}
        {...rest}
      />
      {group.some((f) => f.enter === "stated") && (
        <StatedTable fields={group.filter((f) => f.enter === "stated")} {...rest} />
      )}
      {group
        .filter((f) => f.enter === "list")
        .map((f) => (
          <ListRows key={f.path} field={f} {...rest} />
        ))}
    </Box>
  ));
}

function Plain({ fields, columns, ...rest }: Props) {
  if (fields.length === 0) return null;
  return (
    <Box
      sx={{
        display: "grid",
        gap: 1.2,
        gridTemplateColumns: {
          xs: "repeat(auto-fill, minmax(205px, 1fr))",
          md: `repeat(${columns}, minmax(0, 1fr))`,
        },
        py: 1,
      }}
    >
      {fields.map((field) => (
        <PlainField
          key={field.path}
          field={field}
          control={rest.control}
          speedUnit={rest.speedUnit}
          problems={problemsAt(rest.problems, rest.in_, field.path)}
        />
      ))}
    </Box>
  );
}
