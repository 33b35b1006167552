import { TextField } from "@mui/material";
import { useState } from "react";
import { outside, readNumber, written, type Range } from "./numbers";
import { useUntaken } from "./typed";

interface Props extends Range {
  label: string;
  value: number | null;
  onValue: (value: number | null) => void;
  unit?: string;
  disabled?: boolean;
  optional?: boolean;
  step?: number;
  placeholder?: string;
  /** Said under it, such as where it came from. */ note?: string;
  /** The id of what is said elsewhere against the number that stands there. */ doubt?: string;
  /** The label for those who do not see the column. */ aria?: string;
}

/** A number that is typed. It is taken when it is finished: by Enter, or by leaving the field. What is not understood or
 * out of range stays as it was typed, with why, and nothing of it is passed on. */
export function NumberField(props: Props) {
  const { label, value, onValue, unit, disabled, optional, step = 1, placeholder, note, aria } = props;
  /** What is typed and not taken; null when the field shows its value. */
  const [typed, setTyped] = useState<string | null>(null);
  const [left, setLeft] = useState(false);
  const text = typed ?? written(value);
  const empty = text.trim() === "";
  const read = empty ? null : readNumber(text);
  const wrong = problemOf();
  useUntaken(aria ?? label, typed, typed === null ? "" : wrong);
  // Half a number is not blamed while it is being typed.
  const said = (typed === null || left) && wrong ? wrong : "";

  function problemOf(): string {
    if (empty) return optional || (value === null && typed === null) ? "" : "Write a number.";
    if (!read || "problem" in read) return read?.problem ?? "";
    return typed === null ? "" : outside(read.value, props);
  }
  const take = () => {
    setLeft(true);
    if (typed === null || wrong) return;
    const next = read && "value" in read ? read.value : null;
    setTyped(null);
    if (next !== value) onValue(next);
  };
  const step_by = (by: number) => {
    const from = read && "value" in read ? read.value : (value ?? 0);
    const next = Math.round((from + by) * 1000) / 1000;
    if (outside(next, props)) return;
    setTyped(null);
    onValue(next);
  };
  return (
    <TextField
      label={unit ? `${label}, ${unit}` : label}
      value={text}
      disabled={disabled}
      error={said !== "" || props.doubt !== undefined}
      helperText={said || hint() || undefined}
      placeholder={placeholder}
      onChange={(e) => {
        setLeft(false);
        setTyped(e.target.value === written(value) ? null : e.target.value);
      }}
      onBlur={take}
      slotProps={{
        htmlInput: {
          inputMode: "decimal",
          "aria-label": aria,
          "aria-errormessage": props.doubt,
          autoComplete: "off",
        },
        inputLabel: placeholder ? { shrink: true } : undefined,
      }}
      fullWidth
      onKeyDown={(e) => {
        if (e.key === "Enter") take();
        if (e.key === "Escape" && typed !== null) {
          // The typing is taken back, not the dialog around it closed.
          e.stopPropagation();
          setTyped(null);
          setLeft(false);
        }
        if (e.key !== "ArrowUp" && e.key !== "ArrowDown") return;
        e.preventDefault();
        step_by(e.key === "ArrowUp" ? step : -step);
      }}
    />
  );

  /** How it is read, where it is not written as it is kept. */
  function hint(): string | undefined {
    if (typed === null || !read || !("value" in read) || /^[-−]?\d*\.?\d*$/.test(typed.trim())) return note;
    return `read as ${written(read.value)}`;
  }
}
