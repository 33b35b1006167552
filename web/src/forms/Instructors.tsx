import { MenuItem, TextField } from "@mui/material";

interface Props {
  people: readonly { id: number; name: string }[] | undefined;
  value: number;
  onValue: (id: number) => void;
}

/** Who of those that can be booked instructs it. */
export function Instructors({ people, value, onValue }: Props) {
  const there = people?.some((one) => one.id === value) ?? false;
  return (
    <TextField
      select
      size="small"
      label="Instructor"
      value={there ? value : ""}
      onChange={(e) => onValue(Number(e.target.value))}
    >
      {(people ?? []).map((one) => (
        <MenuItem key={one.id} value={one.id}>
          {one.name}
        </MenuItem>
      ))}
    </TextField>
  );
}
