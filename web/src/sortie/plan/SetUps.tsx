import { Box, Button, Typography } from "@mui/material";
import { useState } from "react";
import type { PlanAnswer, PlanDocument } from "../../api/types";
import { useBounds } from "../../forms/bounds";
import { NumberField } from "../../forms/NumberField";
import { tokens } from "../../theme";

const styles = {
  whole: { mt: 1.5, pt: 1, borderTop: `1px solid ${tokens.hairline}`, display: "grid", gap: 0.75 },
  row: {
    display: "grid",
    gridTemplateColumns: "78px auto auto",
    gap: 0.5,
    alignItems: "start",
    "& .MuiButton-root": { whiteSpace: "nowrap" },
  },
  list: { m: 0, pl: 2.5, fontSize: 13, lineHeight: 1.3 },
  small: { fontSize: 12.5, color: tokens.slate, lineHeight: 1.25 },
} as const;

const MOST_SEED = 999_999;

interface Props {
  surprises: PlanDocument["surprises"];
  drawn: PlanAnswer["drawn"];
  editable: boolean;
  onChange: (surprises: PlanDocument["surprises"]) => void;
}

/** Upsets for closed eyes: how many. Which ones is told in the air; here only to whoever asks. */
export function SetUps({ surprises, drawn, editable, onChange }: Props) {
  const [shown, setShown] = useState(false);
  const bounds = useBounds("plan");
  if (!surprises && !editable) return null;
  const ask = (count: number | null) =>
    onChange(count ? { count, seed: surprises?.seed ?? anySeed() } : null);
  return (
    <Box component="section" aria-label="Eyes closed" sx={styles.whole}>
      <Typography variant="h2" component="h3">
        Eyes closed
      </Typography>
      <Box sx={styles.row}>
        <NumberField
          label="Set-ups"
          {...bounds("surprises.count")}
          least={0}
          value={surprises?.count ?? 0}
          disabled={!editable}
          onValue={ask}
        />
        {surprises && editable && (
          <>
            <Button size="small" onClick={() => onChange({ ...surprises, seed: anySeed() })}>
              Draw others
            </Button>
            <Button size="small" aria-expanded={shown} onClick={() => setShown(!shown)}>
              {shown ? "Hide" : "Look"}
            </Button>
          </>
        )}
      </Box>
      {surprises && shown && drawn && (
        <Box component="ol" sx={styles.list}>
          {drawn.set_ups.map((one) => (
            <li key={one.planned.id}>
              {one.answer.title} from {one.answer.start.shown}
            </li>
          ))}
        </Box>
      )}
      {surprises &&
        drawn?.fewer.map((line) => (
          <Typography key={line} sx={styles.small}>
            {line}.
          </Typography>
        ))}
      {surprises && (
        <Typography sx={styles.small}>
          Which they are, Fly tells the instructor; the brief does not.
        </Typography>
      )}
    </Box>
  );
}

function anySeed(): number {
  return 1 + Math.floor(Math.random() * MOST_SEED);
}
