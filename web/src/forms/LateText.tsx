import { TextField, type TextFieldProps } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { useUntaken } from "./typed";

const PAUSE_MS = 1200;

/** Words that are taken when they are finished: on leaving the field, or after a pause. Until then the screen around
 * says that they are not stored. */
export function LateText({
  label,
  value,
  onValue,
  ...more
}: {
  label: string;
  value: string;
  onValue: (value: string) => void;
} & Omit<TextFieldProps, "value" | "onChange" | "label">) {
  const [typed, setTyped] = useState<string | null>(null);
  useUntaken(label, typed, "");
  const latest = useRef({ typed, onValue });
  useEffect(() => {
    latest.current = { typed, onValue };
  });
  const take = () => {
    if (latest.current.typed === null) return;
    latest.current.onValue(latest.current.typed);
    latest.current.typed = null;
    setTyped(null);
  };
  useEffect(() => {
    if (typed === null) return;
    const timer = setTimeout(take, PAUSE_MS);
    return () => clearTimeout(timer);
  }, [typed]);
  useEffect(
    () => () => void (latest.current.typed !== null && latest.current.onValue(latest.current.typed)),
    [],
  );
  return (
    <TextField
      {...more}
      label={label}
      value={typed ?? value}
      onChange={(e) => setTyped(e.target.value === value ? null : e.target.value)}
      onBlur={take}
    />
  );
}
