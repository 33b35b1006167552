import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  TextField,
  Typography,
} from "@mui/material";
import { memo, useState } from "react";
import type { Check, PlanAnswer } from "../api/types";
import type { Stale } from "../sortie/useComputed";
import { Key } from "../frame/Key";
import { narrow, tokens } from "../theme";
import { WhyNumber } from "../why/WhyNumber";
import { VerdictMark } from "./VerdictMark";

/** As the server asks of a reason: eight letters, and two different words at least. */
function saysSomething(reason: string): boolean {
  const words = reason.toLowerCase().match(/\p{L}{2,}/gu) ?? [];
  return reason.length >= 8 && new Set(words).size >= 2;
}

const styles = {
  group: { fontSize: 12.5, fontWeight: 680, color: tokens.plan, mt: 0.7 },
  check: { display: "flex", gap: 1.2, py: 0.7, borderBottom: `1px solid ${tokens.hairline}` },
  title: { fontWeight: 660, fontSize: 14, lineHeight: 1.3 },
  sentence: { fontSize: 13, color: tokens.slate, lineHeight: 1.35 },
  numbers: {
    ...narrow,
    fontSize: 13,
    display: "flex",
    gap: 1.2,
    alignItems: "baseline",
    flexWrap: "wrap",
  },
  showIt: { minHeight: 24, py: 0, px: 0.5 },
} as const;

interface Props {
  answer: PlanAnswer;
  /** Why the answer is not of this draft; nothing where it is. */ stale?: Stale | null;
  onSelect: (id: string) => void;
  onOverride?: (check: Check, reason: string) => void;
  onWithdraw?: (check: string) => void;
  /** Asks for the order and heights that would fit. */ onFit?: () => void;
}

const STALE: Record<Stale, string> = {
  computing: "computing…",
  "no answer": "not known for this draft",
  refused: "not known for this draft",
};

/** What can still be changed, the easiest first. */
const GROUPS: [Check["change"], string][] = [
  ["sequence", "Sequence"],
  ["load", "Load and fuel"],
  ["day", "Day and time"],
  ["people", "People"],
  ["aircraft", "Aircraft"],
];

/** By what can still be changed, stops first: each with its sentence, the number that decides, and what is to spare. */
export const ChecksColumn = memo(function ChecksColumn({
  answer,
  stale,
  onSelect,
  onOverride,
  onWithdraw,
  onFit,
}: Props) {
  const [asked, setAsked] = useState<Check | null>(null);
  const counts = [
    answer.stops && `${answer.stops} stop${answer.stops > 1 ? "s" : ""}`,
    answer.minds && `${answer.minds} to mind`,
  ]
    .filter(Boolean)
    .join(", ");
  return (
    <Box>
      <Typography variant="h2" sx={{ mb: 0.5 }}>
        Before you go:{" "}
        <Box component="span" role="status" sx={{ color: answer.stops ? tokens.stop : tokens.slate }}>
          {stale ? STALE[stale] : counts || "no stops"}
        </Box>
      </Typography>
      {onFit && (
        <Button size="small" variant="outlined" fullWidth onClick={onFit} sx={{ mb: 0.5, minHeight: 36 }}>
          Find the smallest way out
          <Key of="fit" />
        </Button>
      )}
      {GROUPS.map(([change, words]) => ({ words, checks: answer.checks.filter((c) => c.change === change) }))
        .filter((g) => g.checks.length > 0)
        .sort((a, b) => worst(a.checks) - worst(b.checks))
        .map((group) => (
          <Box key={group.words} component="section" aria-label={group.words} sx={{ mb: 0.5 }}>
            <Typography component="h3" sx={styles.group}>
              {group.words}
            </Typography>
            {group.checks.map((check) => (
              <Box key={check.id} data-check={check.id} data-verdict sx={styles.check}>
                <VerdictMark verdict={check.overridden ? "overridden" : check.verdict} />
                <Box sx={{ flex: 1, minWidth: 0 }}>
                  <Typography sx={styles.title}>{check.title}</Typography>
                  <Typography sx={styles.sentence}>{inFull(check)}</Typography>
                  <Box sx={styles.numbers}>
                    <WhyNumber answer={check.deciding} text={check.spare} />
                    {check.figure && (
                      <Button size="small" sx={styles.showIt} onClick={() => onSelect(check.figure ?? "")}>
                        Show it
                      </Button>
                    )}
                    {check.overridden && onWithdraw && (
                      <Button size="small" sx={styles.showIt} onClick={() => onWithdraw(check.id)}>
                        Withdraw the override
                      </Button>
                    )}
                    {check.verdict === "stop" && !check.overridden && onOverride && (
                      <Button size="small" color="error" sx={styles.showIt} onClick={() => setAsked(check)}>
                        Override
                      </Button>
                    )}
                  </Box>
                  {check.overridden && (
                    <Typography sx={{ fontSize: 13, color: tokens.stop, overflowWrap: "anywhere" }}>
                      Overridden. {check.overridden}
                    </Typography>
                  )}
                </Box>
              </Box>
            ))}
          </Box>
        ))}
      {asked && (
        <OverrideDialog
          check={asked}
          onClose={() => setAsked(null)}
          onOverride={(reason) => {
            onOverride?.(asked, reason);
            setAsked(null);
          }}
        />
      )}
    </Box>
  );
});

/** What is wrong and what to do about it. */
export function inFull(check: Check): string {
  return `${check.sentence} ${check.hint}`.trim();
}

function worst(checks: Check[]): number {
  return Math.min(...checks.map((c) => (c.overridden ? 1 : { stop: 0, mind: 1, fine: 2 }[c.verdict])));
}

function OverrideDialog({
  check,
  onClose,
  onOverride,
}: {
  check: Check;
  onClose: () => void;
  onOverride: (reason: string) => void;
}) {
  const [reason, setReason] = useState("");
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>Override: {check.title}</DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 2 }}>{inFull(check)} Your name and the reason stay on the record.</Typography>
        <TextField
          autoFocus
          fullWidth
          multiline
          minRows={2}
          label="Reason, in a sentence"
          value={reason}
          onChange={(e) => setReason(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 500 } }}
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Leave it a stop</Button>
        <Button
          color="error"
          variant="contained"
          disabled={!saysSomething(reason.trim())}
          onClick={() => onOverride(reason.trim())}
        >
          Override
        </Button>
      </DialogActions>
    </Dialog>
  );
}
