import { Box, Button, ToggleButton } from "@mui/material";
import { useState } from "react";
import type { Attempt } from "../../api/types";
import type { Edits } from "../../notes/entry";
import { FEEL_ENDS } from "../../frame/feel";
import { narrow, tokens } from "../../theme";
import type { FlyFigure } from "./figures";

const styles = {
  feel: {
    display: "grid",
    gridTemplateColumns: "repeat(3, 1fr)",
    gap: 1,
    height: "100%",
    alignContent: "stretch",
  },
  end: { fontSize: 15, fontWeight: 560, ml: 0.7 },
  number: { ...narrow, fontSize: 30, fontWeight: 740, minHeight: 64, minWidth: 0, borderWidth: 2 },
  went: {
    display: "flex",
    flexWrap: "wrap",
    gap: 1,
    alignContent: "start",
    overflow: "auto",
    height: "100%",
  },
  fault: { minHeight: 64, fontSize: 17, px: 1.5, lineHeight: 1.15, borderWidth: 2, flex: "1 1 30%" },
  words: { flexBasis: "100%", fontSize: 14, color: tokens.slate, lineHeight: 1 },
  counted: { display: "flex", alignItems: "center", gap: 0.5, flex: "1 1 45%" },
  count: { ...narrow, fontSize: 19, fontWeight: 740, flex: 1, textAlign: "center", lineHeight: 1.05 },
  step: { minWidth: 64, minHeight: 64, fontSize: 24, fontWeight: 740, borderWidth: 2, p: 0 },
} as const;

interface PadProps {
  attempt: Attempt | null;
  disabled: boolean;
  edit: (edits: Edits) => void;
}

const ENDS: Record<number, string> = { 10: " fine", 0: " very ill" };

/** How do you feel, 0 to 10: the same key once more takes it back. */
export function FeelPad({ attempt, disabled, edit }: PadProps) {
  return (
    <Box role="group" aria-label={`How do you feel, ${FEEL_ENDS}`} sx={styles.feel}>
      {[10, 9, 8, 7, 6, 5, 4, 3, 2, 1, 0].map((n) => (
        <ToggleButton
          key={n}
          value={n}
          selected={attempt?.feel === n}
          disabled={disabled}
          onChange={() => edit({ feel: attempt?.feel === n ? null : n })}
          sx={styles.number}
          aria-label={`Feel ${n}${ENDS[n] ?? ""}`}
        >
          {n}
          {ENDS[n] && (
            <Box component="span" sx={styles.end}>
              {ENDS[n]}
            </Box>
          )}
        </ToggleButton>
      ))}
    </Box>
  );
}

const SHOWN = 6;

/** What became of it, the figure's own faults (the student's usual ones first), turns and g. */
export function WentPad({
  figure,
  usual,
  attempt,
  disabled,
  edit,
}: PadProps & { figure: FlyFigure; usual: readonly string[] }) {
  const [all, setAll] = useState(false);
  const made = attempt?.faults ?? [];
  const ordered = [...figure.faults].sort(
    (a, b) => Number(usual.includes(b.words)) - Number(usual.includes(a.words)),
  );
  const shown = all ? ordered : ordered.filter((f, i) => i < SHOWN || made.includes(f.key));
  return (
    <Box sx={styles.went} tabIndex={-1}>
      <Box role="group" aria-label="Faults" sx={{ display: "contents" }}>
        {shown.map(({ key, words }) => (
          <ToggleButton
            key={key}
            value={key}
            selected={made.includes(key)}
            disabled={disabled}
            sx={styles.fault}
            onChange={() => edit({ fault: { [key]: !made.includes(key) } })}
          >
            {words}
          </ToggleButton>
        ))}
        {ordered.length > SHOWN && (
          <Button onClick={() => setAll(!all)} sx={{ minHeight: 64, flex: "1 1 30%" }}>
            {all ? "Fewer" : `${ordered.length - shown.length} more`}
          </Button>
        )}
      </Box>
      {figure.outcomes.length > 0 && (
        <Box role="group" aria-label="What became of it" sx={{ display: "contents" }}>
          <Box sx={styles.words}>What became of it</Box>
          {figure.outcomes.map((outcome) => (
            <ToggleButton
              key={outcome}
              value={outcome}
              selected={attempt?.outcome === outcome}
              disabled={disabled}
              sx={styles.fault}
              onChange={() => edit({ outcome: attempt?.outcome === outcome ? null : outcome })}
            >
              {outcome}
            </ToggleButton>
          ))}
        </Box>
      )}
      {figure.answer?.turns_allowed && (
        <Counted
          words="turns"
          value={attempt?.turns ?? null}
          offered={figure.planned.parameters?.turns ?? 1}
          by={0.5}
          digits={1}
          disabled={disabled}
          onValue={(turns) => edit({ turns })}
        />
      )}
      <Counted
        words="most g"
        value={attempt?.most_g ?? null}
        offered={figure.answer?.most_g.value ?? 1}
        by={0.1}
        digits={1}
        disabled={disabled}
        onValue={(most_g) => edit({ most_g })}
      />
    </Box>
  );
}

interface CountedProps {
  words: string;
  value: number | null;
  offered: number;
  by: number;
  digits: number;
  disabled: boolean;
  onValue: (value: number) => void;
}

/** A number that is counted up and down from what was planned. */
function Counted({ words, value, offered, by, digits, disabled, onValue }: CountedProps) {
  const now = value ?? offered;
  const move = (to: number) => onValue(Math.max(0, Number((Math.round(to / by) * by).toFixed(3))));
  const key = (sign: number, name: string) => (
    <Button
      variant="outlined"
      disabled={disabled}
      onClick={() => move(now + sign * by)}
      sx={styles.step}
      aria-label={`${name} ${words}`}
    >
      {sign > 0 ? "+" : "−"}
    </Button>
  );
  return (
    <Box role="group" aria-label={words} sx={styles.counted}>
      {key(-1, "Less")}
      <Button
        disabled={disabled || value !== null}
        onClick={() => move(now)}
        sx={{ ...styles.count, minHeight: 64, color: "inherit", "&.Mui-disabled": { color: tokens.ink } }}
      >
        {now.toFixed(digits)}
        {value === null && " ?"}
        <br />
        {words}
      </Button>
      {key(1, "More")}
    </Box>
  );
}
