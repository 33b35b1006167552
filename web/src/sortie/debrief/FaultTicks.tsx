import { Box, Button, ToggleButton, Typography } from "@mui/material";
import { useState } from "react";
import type { Attempt } from "../../api/types";
import { useCatalogue } from "../../api/questions";
import type { Edits } from "../../notes/entry";
import type { StageProps } from "../stage";

const styles = {
  faults: { display: "flex", flexWrap: "wrap", gap: 0.6 },
  fault: { py: 0, px: 1, fontSize: 13 },
} as const;

/** The faults of its figure, those that are ticked always among them. */
export function FaultTicks({
  attempt,
  work,
  editable,
  edit,
}: {
  attempt: Attempt;
  work: StageProps["work"];
  editable: boolean;
  edit: (change: Edits) => void;
}) {
  const [all, setAll] = useState(false);
  // A figure that was not planned has its faults from the catalogue.
  const of_plan = work.answer.figures.find((f) => f.key === attempt.planned.key);
  const catalogue = useCatalogue().data;
  const kind = catalogue?.figures.find((f) => f.key === attempt.planned.key);
  const faults = of_plan?.faults ?? kind?.faults ?? [];
  const shown = faults.filter(({ key }, i) => all || i < 4 || attempt.faults.includes(key));
  return (
    <Box role="group" aria-label="Faults">
      <Typography variant="h2" component="h3" sx={{ mb: 0.5 }}>
        Faults
      </Typography>
      <Box sx={styles.faults}>
        {shown.map(({ key, words, does }) => (
          <ToggleButton
            key={key}
            value={key}
            title={does}
            selected={attempt.faults.includes(key)}
            disabled={!editable}
            sx={styles.fault}
            onChange={() => edit({ fault: { [key]: !attempt.faults.includes(key) } })}
          >
            {words}
          </ToggleButton>
        ))}
        {faults.length > shown.length || all ? (
          <Button size="small" onClick={() => setAll(!all)}>
            {all ? "Fewer" : `${faults.length - shown.length} more`}
          </Button>
        ) : null}
      </Box>
    </Box>
  );
}
