import { Box, MenuItem, TextField } from "@mui/material";
import { useState } from "react";
import { useCatalogue } from "../api/questions";
import type { PastAttempt, Student } from "../api/types";
import { Empty } from "../frame/states";
import { AttemptsOverTime } from "./AttemptsOverTime";

const styles = {
  whole: { flex: 1, minHeight: 320, display: "flex", flexDirection: "column", gap: 1 },
  figure: { width: 280, mt: 0.5 },
} as const;

/** The height that each attempt at a figure cost, over time. */
export function Heights({
  attempts,
  own,
  first,
}: {
  attempts: PastAttempt[];
  own: Student["own"];
  first?: string;
}) {
  const names = useCatalogue().data?.figures ?? [];
  const keys = [...new Set(attempts.map((a) => a.figure))];
  const [figure, setFigure] = useState(first && keys.includes(first) ? first : (keys[0] ?? ""));
  if (keys.length === 0)
    return <Empty>Nothing flown yet. The heights of the first sortie will appear here.</Empty>;
  return (
    <Box sx={styles.whole}>
      <TextField
        select
        size="small"
        label="Height spent on"
        value={figure}
        onChange={(e) => setFigure(e.target.value)}
        sx={styles.figure}
      >
        {keys.map((key) => (
          <MenuItem key={key} value={key}>
            {names.find((f) => f.key === key)?.name ?? key}
          </MenuItem>
        ))}
      </TextField>
      <AttemptsOverTime
        attempts={attempts.filter((a) => a.figure === figure)}
        own={own.find((o) => o.figure === figure)}
      />
    </Box>
  );
}
