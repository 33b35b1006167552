import { Box } from "@mui/material";
import type { Sortie } from "../api/types";
import { dayAndTime } from "../frame/dates";
import { tokens } from "../theme";

const styles = { past: { m: 0, p: 0, listStyle: "none", fontSize: 14, color: tokens.slate } } as const;

/** What became of it so far, by whom: stages and bookings in the order in which they were changed. */
export function Past({ sortie }: { sortie: Sortie }) {
  const lines = [
    ...sortie.stage_changes.map((c) => ({ at: c.at, by: c.by, words: `marked as ${c.stage}` })),
    ...sortie.rebooked.map((c) => ({ at: c.at, by: c.by, words: rebookedWords(c) })),
  ].sort((a, b) => a.at.localeCompare(b.at));
  if (lines.length === 0) return <Box sx={styles.past}>Nothing of it was changed so far.</Box>;
  return (
    <Box component="ul" aria-label="What became of it so far" sx={styles.past}>
      {lines.map((line) => (
        <li key={line.at + line.words}>
          {dayAndTime(line.at)}, {line.by}: {line.words}
        </li>
      ))}
    </Box>
  );
}

function rebookedWords({ what, before, after }: Sortie["rebooked"][number]): string {
  if (what === "cancelled") return after ? `cancelled. ${after}` : "put back";
  const said = what === "time" ? dayAndTime : (words: string) => words;
  return `${what} ${said(before)} → ${said(after)}`;
}
