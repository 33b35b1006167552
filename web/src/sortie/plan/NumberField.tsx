import { TextField } from "@mui/material";
import { useState } from "react";

interface Props {
  label: string;
  value: number | null;
  onValue: (value: number | null) => void;
  unit?: string;
  disabled?: boolean;
  optional?: boolean;
  step?: number;
  placeholder?: string;
  /** Said under it, such as where it came from. */ note?: string;
  /** The label for those who do not see the column. */ aria?: string;
}

/** A number that is typed. What is not a number is said at once and not passed on; what it was stays until it is one. */
export function NumberField({
  label,
  value,
  onValue,
  unit,
  disabled,
  optional,
  step = 1,
  placeholder,
  note,
  aria,
}: Props) {
  const [{ text, shows }, setShown] = useState({ text: written(value), shows: value });
  // The value changed elsewhere (a drag, undo): show it, unless it is what is being typed.
  if (shows !== value) setShown({ text: numberIn(text) === value ? text : written(value), shows: value });
  const wrong =
    text.trim() === ""
      ? optional || value === null
        ? ""
        : "Write a number."
      : numberIn(text) === null
        ? `'${text}' is not a number.`
        : "";
  const take = (next: string) => {
    setShown({ text: next, shows });
    const number = numberIn(next);
    if (number !== null) onValue(number);
    else if (optional && next.trim() === "") onValue(null);
  };
  return (
    <TextField
      label={unit ? `${label}, ${unit}` : label}
      value={text}
      disabled={disabled}
      error={wrong !== ""}
      helperText={wrong || note || undefined}
      placeholder={placeholder}
      onChange={(e) => take(e.target.value)}
      slotProps={{
        htmlInput: { inputMode: "decimal", "aria-label": aria },
        inputLabel: placeholder ? { shrink: true } : undefined,
      }}
      fullWidth
      onKeyDown={(e) => {
        if (e.key !== "ArrowUp" && e.key !== "ArrowDown") return;
        e.preventDefault();
        take(
          String(Math.round(((numberIn(text) ?? 0) + (e.key === "ArrowUp" ? step : -step)) * 1000) / 1000),
        );
      }}
    />
  );
}

function written(value: number | null): string {
  return value === null ? "" : String(Math.round(value * 1000) / 1000);
}

/** "6,030" and "6030.5" are numbers; "abc" and "" are not. */
export function numberIn(text: string): number | null {
  const plain = text.replace(/,(?=\d{3}(\D|$))/g, "").trim();
  return /^[-−]?\d+(\.\d*)?$/.test(plain) ? Number(plain.replace("−", "-")) : null;
}
