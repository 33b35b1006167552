import { MenuItem, TextField, type TextFieldProps } from "@mui/material";
import type { Attempt } from "../api/types";
import type { Edits } from "../notes/entry";

interface Props extends Pick<TextFieldProps, "sx" | "slotProps" | "disabled"> {
  edit: (edits: Edits) => void;
}

export function WhoFlew({
  value,
  who,
  edit,
  ...field
}: Props & { value: Attempt["flown_by"]; who: readonly Attempt["flown_by"][] }) {
  return (
    <TextField
      select
      label="Who flew"
      value={value}
      onChange={(e) => edit({ flown_by: e.target.value as Attempt["flown_by"] })}
      {...field}
    >
      {who.map((one) => (
        <MenuItem key={one} value={one}>
          {one}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** What was noted stays to be chosen, whatever its figure can become. */
export function WhatBecame({
  value,
  outcomes,
  edit,
  ...field
}: Props & { value: Attempt["outcome"]; outcomes: readonly NonNullable<Attempt["outcome"]>[] }) {
  return (
    <TextField
      select
      label="What became of it"
      value={value ?? ""}
      onChange={(e) => edit({ outcome: (e.target.value || null) as Attempt["outcome"] })}
      {...field}
    >
      <MenuItem value="">not noted</MenuItem>
      {[...new Set([...outcomes, ...(value ? [value] : [])])].map((one) => (
        <MenuItem key={one} value={one}>
          {one}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** From start to lowest, as it stands in lists; nothing until both are noted. */
export function heightLost(attempt: Pick<Attempt, "start_ft" | "lowest_ft"> | null): string {
  if (attempt?.start_ft == null || attempt.lowest_ft == null) return "";
  const change = attempt.lowest_ft - attempt.start_ft;
  const sign = change < 0 ? "−" : change > 0 ? "+" : "";
  return `${sign}${Math.abs(change).toLocaleString("en")}`;
}
