import { Box, Button, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import type { FlownBy } from "../../api/types";
import { narrow } from "../../theme";
import { HEIGHTS, preset, type HeightName, type Noting } from "./noting";

const WHO: Record<FlownBy, string> = {
  "instructor shows": "I showed",
  "student with talk": "With talk",
  "student alone": "Student",
};
const STEPS_FT = [-100, -20, 20, 100];

const styles = {
  heights: { display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1 },
  height: { minHeight: 68, flexDirection: "column", lineHeight: 1.1, borderWidth: 2, fontSize: 17 },
  noted: { ...narrow, fontSize: 23, fontWeight: 760 },
  offered: { opacity: 0.8, fontWeight: 500, fontSize: 17 },
  steps: { display: "grid", gridTemplateColumns: "repeat(4, 1fr)", gap: 1 },
  step: { ...narrow, minHeight: 64, minWidth: 0, fontSize: 20, fontWeight: 720, borderWidth: 2 },
  turns: { display: "flex", alignItems: "center", gap: 1 },
  turn: { minHeight: 64, minWidth: 64, fontSize: 22 },
  turnsNow: { flex: 1, textAlign: "center", fontSize: 18, fontWeight: 680 },
  feel: { display: "grid", gridTemplateColumns: "repeat(6, 1fr)", gap: 0.5 },
  feelWord: { alignSelf: "center", fontSize: 14, fontWeight: 650, lineHeight: 1.1 },
  feelKey: { minHeight: 48, minWidth: 0, p: 0, fontSize: 18 },
} as const;

interface HeightKeysProps extends Noting {
  active: HeightName;
  onActive: (name: HeightName) => void;
}

/** Start, recover, lowest, level: the first tap takes the height that is offered. */
export function HeightKeys({ figure, attempt, editable, edit, active, onActive }: HeightKeysProps) {
  return (
    <Box sx={styles.heights}>
      {HEIGHTS.map(([name, words]) => {
        const value = attempt?.[name];
        return (
          <Button
            key={name}
            disabled={!editable}
            aria-pressed={active === name}
            onClick={() => {
              onActive(name);
              if (value == null) edit({ [name]: preset(figure, attempt, name) });
            }}
            variant={active === name ? "contained" : "outlined"}
            sx={styles.height}
          >
            {words}
            <Box component="span" sx={styles.noted}>
              {value?.toLocaleString("en") ?? (
                <Box component="span" sx={styles.offered}>
                  {preset(figure, attempt, name).toLocaleString("en")} ?
                </Box>
              )}
            </Box>
          </Button>
        );
      })}
    </Box>
  );
}

export function StepKeys({ figure, attempt, editable, edit, active }: Noting & { active: HeightName }) {
  const now = attempt?.[active] ?? preset(figure, attempt, active);
  return (
    <Box sx={styles.steps}>
      {STEPS_FT.map((by) => (
        <Button
          key={by}
          variant="outlined"
          color="inherit"
          disabled={!editable}
          onClick={() => edit({ [active]: Math.max(0, now + by) })}
          sx={styles.step}
        >
          {by > 0 ? `+${by}` : `−${-by}`}
        </Button>
      ))}
    </Box>
  );
}

export function TurnKeys({ attempt, editable, edit, planned }: Noting & { planned: number }) {
  const now = attempt?.turns ?? planned;
  const key = (by: number, words: string, label: string) => (
    <Button
      variant="outlined"
      disabled={!editable}
      onClick={() => edit({ turns: Math.max(0, now + by) })}
      sx={styles.turn}
      aria-label={label}
    >
      {words}
    </Button>
  );
  return (
    <Box sx={styles.turns}>
      {key(-0.5, "−½", "Half a turn less")}
      <Typography sx={styles.turnsNow}>
        {now} turns{attempt?.turns == null && " ?"}
      </Typography>
      {key(0.5, "+½", "Half a turn more")}
    </Box>
  );
}

export function FeelKeys({ attempt, editable, edit }: Noting) {
  return (
    <Box role="group" aria-label="How do you feel, 0 to 10" sx={styles.feel}>
      <Typography sx={styles.feelWord}>Feel</Typography>
      {Array.from({ length: 11 }, (_, n) => (
        <ToggleButton
          key={n}
          value={n}
          selected={attempt?.feel === n}
          disabled={!editable}
          onChange={() => edit({ feel: attempt?.feel === n ? null : n })}
          sx={styles.feelKey}
          aria-label={`Feel ${n}`}
        >
          {n}
        </ToggleButton>
      ))}
    </Box>
  );
}

export function WhoKeys({ attempt, editable, edit }: Noting) {
  return (
    <ToggleButtonGroup
      exclusive
      fullWidth
      disabled={!editable}
      value={attempt?.flown_by ?? null}
      aria-label="Who flew"
      onChange={(_, who: FlownBy | null) => who && edit({ flown_by: who })}
    >
      {(Object.entries(WHO) as [FlownBy, string][]).map(([value, words]) => (
        <ToggleButton key={value} value={value} sx={{ minHeight: 64, fontSize: 17 }}>
          {words}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}
