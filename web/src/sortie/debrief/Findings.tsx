import { Box, Button, ButtonBase, Typography } from "@mui/material";
import type { Attempt, FaultSeen } from "../../api/types";
import type { Edits } from "../../notes/entry";
import { tokens } from "../../theme";
import { sourceWords } from "../../why/source";

const styles = {
  list: { listStyle: "none", p: 0, m: 0, display: "grid", gap: 0.8 },
  one: { display: "grid", gridTemplateColumns: "22px 1fr auto", columnGap: 0.8, alignItems: "baseline" },
  number: {
    width: 22,
    height: 22,
    borderRadius: "50%",
    bgcolor: tokens.mind,
    color: tokens.sheet,
    fontWeight: 720,
    fontSize: 12.5,
    display: "grid",
    placeItems: "center",
  },
  name: { fontWeight: 660, fontSize: 14, lineHeight: 1.25 },
  seen: { gridColumn: "2", fontSize: 12.5, color: tokens.slate, lineHeight: 1.3 },
  limits: { fontSize: 12.5, color: tokens.slate, lineHeight: 1.3 },
} as const;

interface Props {
  attempt: Attempt;
  faults: readonly FaultSeen[];
  editable: boolean;
  edit: (edits: Edits) => void;
  /** To the moment of a fault, seconds since the figure began; left out where nothing is flown again. */
  onGo?: (at_s: number) => void;
}

/** What the recording shows beside what was ticked. What is ticked counts: here it is chosen which of the two does. */
export function Findings({ attempt, faults, editable, edit, onGo }: Props) {
  const found = faults.filter((fault) => fault.found);
  const denied = faults.filter((fault) => !fault.found && attempt.faults.includes(fault.key));
  const tick = (key: string, on: boolean) => (
    <Button
      size="small"
      disabled={!editable}
      onClick={() => edit({ fault: { [key]: on } })}
      sx={{ py: 0, minWidth: 0 }}
    >
      {on ? "Note it" : "Strike it"}
    </Button>
  );
  if (found.length + denied.length === 0)
    return (
      <Typography sx={{ fontSize: 13.5 }}>The recording shows none of the faults that it can.</Typography>
    );
  return (
    <Box component="ol" sx={styles.list} aria-label="Faults that the recording shows">
      {found.map((fault, i) => (
        <Box component="li" key={fault.key} id={`fault-${fault.key}`} sx={styles.one}>
          <ButtonBase
            sx={styles.number}
            aria-label={`${i + 1}, where it stands on the trace`}
            disabled={!onGo}
            onClick={() => onGo?.(fault.at_s)}
          >
            {i + 1}
          </ButtonBase>
          <Box component="span" sx={styles.name} title={fault.does}>
            {fault.words}
          </Box>
          <Box component="span" sx={{ fontWeight: 680, fontSize: 14 }}>
            {cost(fault)}
          </Box>
          <Box sx={styles.seen}>
            {seen(fault)}. {attempt.faults.includes(fault.key) ? "Noted too." : "Not noted."}
          </Box>
          {!attempt.faults.includes(fault.key) && tick(fault.key, true)}
        </Box>
      ))}
      {denied.map((fault) => (
        <Box component="li" key={fault.key} sx={styles.one}>
          <span />
          <Box component="span" sx={styles.name}>
            {fault.words}
          </Box>
          <span />
          <Box sx={styles.seen}>
            Noted; the recording {fault.sure ? "does not show it" : "does not show it for sure"}:{" "}
            {seen(fault)}. {tick(fault.key, false)}
          </Box>
        </Box>
      ))}
      <Box component="li" sx={styles.limits}>
        Limits: {[...new Set([...found, ...denied].map((fault) => sourceWords(fault.source)))].join("; ")}.
      </Box>
    </Box>
  );
}

/** Feet, when they can be told from those of others. */
function cost(fault: FaultSeen): string {
  if (fault.cost_ft == null) return "";
  if (fault.with_others.length > 0 || (fault.cost_doubt_ft ?? 0) > Math.abs(fault.cost_ft))
    return "not split";
  return `${(Math.round(fault.cost_ft / 10) * 10 + 0).toLocaleString("en")} ft`;
}

function seen(fault: FaultSeen): string {
  const likely = fault.found && !fault.sure ? "likely: " : "";
  return `${likely}${fault.looks_at} ${fault.value}, a fault ${fault.more ? "above" : "below"} ${fault.limit}`;
}
