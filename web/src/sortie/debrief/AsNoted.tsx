import { Box, Typography } from "@mui/material";
import type { Attempt, Sortie } from "../../api/types";
import { useBounds } from "../../forms/bounds";
import { NumberField } from "../../forms/NumberField";
import type { Edits } from "../../notes/entry";

const NUMBERS = [
  ["Start", "start_ft"],
  ["Recover", "recover_ft"],
  ["Lowest", "lowest_ft"],
  ["Level", "level_ft"],
  ["Turns", "turns"],
  ["Most g", "most_g"],
  ["Rolling g", "rolling_g"],
  ["Fastest", "fastest_ias"],
] as const;
/** Of the arrow keys in a number; heights by twenty feet. */
const STEPS: Record<string, number> = { turns: 0.5, most_g: 0.1, rolling_g: 0.1, fastest_ias: 1 };

/** The numbers of an attempt, each with what is doubtful about it. */
export function AsNoted({
  attempt,
  doubts,
  editable,
  edit,
}: {
  attempt: Attempt;
  doubts: Sortie["doubts"][string];
  editable: boolean;
  edit: (edits: Edits) => void;
}) {
  const bounds = useBounds("attempt");
  return (
    <Box>
      <Typography variant="h2" component="h3" sx={{ mb: 0.8 }}>
        As noted
      </Typography>
      <Box key={attempt.id} sx={{ display: "grid", gridTemplateColumns: "1fr 1fr 1fr", gap: 1 }}>
        {NUMBERS.map(([words, name]) => (
          <NumberField
            key={name}
            label={words}
            {...bounds(name)}
            doubt={doubts.some((p) => p.where === name) ? `doubt-${name}` : undefined}
            value={attempt[name] ?? null}
            optional
            step={STEPS[name] ?? 20}
            disabled={!editable}
            onValue={(v) => edit({ [name]: v })}
          />
        ))}
      </Box>
      {doubts.map((p) => (
        <Typography key={p.where} id={`doubt-${p.where}`} color="error" sx={{ fontSize: 14, mt: 0.6 }}>
          {p.place}: {p.what}. {p.do}
        </Typography>
      ))}
    </Box>
  );
}
