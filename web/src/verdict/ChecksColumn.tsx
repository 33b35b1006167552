import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Check, PlanAnswer } from "../api/types";
import { narrow, tokens } from "../theme";
import { WhyNumber } from "../why/WhyNumber";
import { VerdictMark } from "./VerdictMark";

interface Props { answer: PlanAnswer; onSelect: (id: string) => void; onOverride?: (check: string, reason: string) => void }

/** Stops first: each with its sentence, the number that decides, and what is to spare. */
export function ChecksColumn({ answer, onSelect, onOverride }: Props) {
  const [asked, setAsked] = useState<Check | null>(null);
  const counts = [answer.stops && `${answer.stops} stop${answer.stops > 1 ? "s" : ""}`, answer.minds && `${answer.minds} to mind`].filter(Boolean).join(", ");
  return (
    <Box>
      <Typography variant="h2" sx={{ mb: 0.5 }}>Before you go: <Box component="span" sx={{ color: answer.stops ? tokens.stop : tokens.slate }}>{counts || "no stops"}</Box></Typography>
      {answer.checks.map((check) => (
        <Box key={check.key} data-check={check.key} sx={{ display: "flex", gap: 1.2, py: 1, borderBottom: `1px solid ${tokens.hairline}` }}>
          <VerdictMark verdict={check.overridden ? "overridden" : check.verdict} />
          <Box sx={{ flex: 1, minWidth: 0 }}>
            <Typography sx={{ fontWeight: 660, fontSize: 14, lineHeight: 1.3 }}>{check.title}</Typography>
            <Typography sx={{ fontSize: 13, color: tokens.slate, lineHeight: 1.35 }}>{check.sentence}</Typography>
            <Box sx={{ ...narrow, fontSize: 13, display: "flex", gap: 1.2, alignItems: "baseline", flexWrap: "wrap" }}>
              {check.deciding ? <WhyNumber answer={check.deciding} text={check.spare} /> : <span>{check.spare}</span>}
              {check.figure && <Button size="small" sx={{ minHeight: 24, py: 0, px: 0.5 }} onClick={() => onSelect(check.figure ?? "")}>Show it</Button>}
              {check.verdict === "stop" && !check.overridden && onOverride && <Button size="small" color="error" sx={{ minHeight: 24, py: 0, px: 0.5 }} onClick={() => setAsked(check)}>Override</Button>}
            </Box>
            {check.overridden && <Typography sx={{ fontSize: 13, color: tokens.stop }}>Overridden. {check.overridden}</Typography>}
          </Box>
        </Box>
      ))}
      {asked && <OverrideDialog check={asked} onClose={() => setAsked(null)} onOverride={(reason) => { onOverride?.(asked.key, reason); setAsked(null); }} />}
    </Box>
  );
}

function OverrideDialog({ check, onClose, onOverride }: { check: Check; onClose: () => void; onOverride: (reason: string) => void }) {
  const [reason, setReason] = useState("");
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>Override: {check.title}</DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 2 }}>{check.sentence} Your name and the reason stay on the record.</Typography>
        <TextField autoFocus fullWidth multiline minRows={2} label="Reason (8 letters or more)" value={reason} onChange={(e) => setReason(e.target.value)} slotProps={{ htmlInput: { maxLength: 500 } }} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Leave it a stop</Button>
        <Button color="error" variant="contained" disabled={reason.trim().length < 8} onClick={() => onOverride(reason.trim())}>Override</Button>
      </DialogActions>
    </Dialog>
  );
}
