import { Box, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useState } from "react";
import { useCatalogue } from "../api/questions";
import type { PastAttempt } from "../api/types";
import { Empty } from "../frame/states";
import { AttemptsOverTime } from "./AttemptsOverTime";

const styles = {
  whole: { flex: 1, minHeight: 320, display: "flex", flexDirection: "column", gap: 1 },
  head: { display: "flex", alignItems: "center", gap: 1.5, flexWrap: "wrap" },
} as const;

/** The height that each attempt at a figure cost, over time. */
export function Heights({ attempts, first }: { attempts: PastAttempt[]; first?: string }) {
  const names = useCatalogue().data?.figures ?? [];
  const keys = [...new Set(attempts.map((a) => a.figure))];
  const [figure, setFigure] = useState(first && keys.includes(first) ? first : (keys[0] ?? ""));
  if (keys.length === 0)
    return <Empty>Nothing flown yet. The heights of the first sortie will appear here.</Empty>;
  return (
    <Box sx={styles.whole}>
      <Box sx={styles.head}>
        <Typography variant="h2">Height spent on</Typography>
        <ToggleButtonGroup
          exclusive
          size="small"
          value={figure}
          onChange={(_, key: string | null) => key && setFigure(key)}
          aria-label="Figure"
          sx={{ flexWrap: "wrap" }}
        >
          {keys.map((key) => (
            <ToggleButton key={key} value={key} sx={{ py: 0 }}>
              {names.find((f) => f.key === key)?.name ?? key}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      </Box>
      <AttemptsOverTime attempts={attempts.filter((a) => a.figure === figure)} />
    </Box>
  );
}
