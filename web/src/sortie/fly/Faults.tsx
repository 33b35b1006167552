import { Box, Button, ToggleButton } from "@mui/material";
import { useState } from "react";
import type { Noting } from "./noting";

const styles = {
  faults: { display: "flex", flexWrap: "wrap", gap: 1 },
  fault: { minHeight: 64, fontSize: 16, px: 2 },
} as const;

/** The figure's faults, one tap each; those of the last lesson (`first`) stand first. */
export function Faults({ figure, attempt, first, editable, edit }: Noting & { first: string[] }) {
  const [all, setAll] = useState(false);
  const made = attempt?.faults ?? [];
  const ordered = [...figure.faults].sort(
    (a, b) => Number(first.includes(b.words)) - Number(first.includes(a.words)),
  );
  const shown = all ? ordered : ordered.filter((f, i) => i < 5 || made.includes(f.key));
  return (
    <Box role="group" aria-label="Faults" sx={styles.faults}>
      {shown.map(({ key, words }) => (
        <ToggleButton
          key={key}
          value={key}
          selected={made.includes(key)}
          disabled={!editable}
          sx={styles.fault}
          onChange={() =>
            edit({ faults: made.includes(key) ? made.filter((k) => k !== key) : [...made, key] })
          }
        >
          {words}
        </ToggleButton>
      ))}
      {ordered.length > 5 && (
        <Button onClick={() => setAll(!all)} sx={{ minHeight: 64 }}>
          {all ? "Fewer" : `${ordered.length - 5} more`}
        </Button>
      )}
    </Box>
  );
}
