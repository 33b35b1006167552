import { Box } from "@mui/material";
import type { Attempt } from "../../api/types";
import { narrow, tokens } from "../../theme";
import { heightAt, isHeight, STEP_WORDS, stepsOf, type Step } from "./steps";

const styles = {
  bar: { display: "flex", gap: "3px" },
  step: {
    flex: 1,
    minWidth: 0,
    minHeight: 64,
    border: 0,
    bgcolor: "transparent",
    font: "inherit",
    color: tokens.slate,
    p: 0,
    pb: "9px",
    cursor: "pointer",
    borderBottom: `6px solid ${tokens.hairline}`,
    lineHeight: 1.15,
    fontSize: 15,
    "&:disabled": { cursor: "default" },
  },
  value: { ...narrow, display: "block", fontWeight: 760, fontSize: 18, color: tokens.ink, minHeight: 20 },
} as const;

interface Props {
  attempt: Attempt | null;
  active: Step;
  onStep: (step: Step) => void;
}

/** The keys of this figure in order: what is noted, and which is next. Any can be gone back to. */
export function StepBar({ attempt, active, onStep }: Props) {
  return (
    <Box role="group" aria-label="Noted of this figure" sx={styles.bar}>
      {stepsOf(attempt).map((step) => {
        const shown = shownAt(attempt, step);
        const colour = step === active ? tokens.plan : shown ? tokens.flown : tokens.hairline;
        return (
          <Box
            component="button"
            type="button"
            key={step}
            aria-current={step === active ? "step" : undefined}
            onClick={() => onStep(step)}
            sx={{
              ...styles.step,
              borderColor: colour,
              ...(step === active && { color: tokens.ink, fontWeight: 760 }),
            }}
          >
            {STEP_WORDS[step]}
            <Box component="span" sx={styles.value}>
              {shown ?? (step === active ? "?" : "")}
            </Box>
          </Box>
        );
      })}
    </Box>
  );
}

function shownAt(attempt: Attempt | null, step: Step): string | null {
  if (isHeight(step)) return heightAt(attempt, step)?.toLocaleString("en") ?? null;
  if (step === "feel") return attempt?.feel == null ? null : String(attempt.feel);
  const faults = attempt?.faults.length ?? 0;
  return faults > 0 ? String(faults) : null;
}
