import { Alert, Box, Button, LinearProgress, Paper, Typography } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, server } from "../api/client";
import { askAgain } from "../api/questions";
import type { Records } from "../api/types";
import { dayAndTime } from "../frame/dates";
import { Trouble } from "../frame/states";
import { narrow, tokens } from "../theme";
import { VerdictMark } from "../verdict/VerdictMark";

const styles = {
  sheet: { border: `1px solid ${tokens.hairline}`, p: 1.5 },
  line: { display: "flex", gap: 0.8, alignItems: "flex-start", fontSize: 14.5, py: 0.3 },
  small: { ...narrow, fontSize: 13.5, color: tokens.slate },
  digest: { fontFamily: "monospace", fontSize: 12.5, overflowWrap: "anywhere" },
} as const;

interface Check {
  to: number;
  of: number;
  faults: string[];
}

/** How many signed records and corrections hang together; followed from the first to the last on request. */
export function ChainSheet({ records }: { records: Records }) {
  const queries = useQueryClient();
  const [check, setCheck] = useState<Check | null>(null);
  const [error, setError] = useState<unknown>(null);
  const [busy, setBusy] = useState(false);
  const follow = async () => {
    setBusy(true);
    setError(null);
    let now: Check = { to: 0, of: records.links, faults: [] };
    setCheck(now);
    try {
      do {
        const found = await answered(server.POST("/api/records/check", { body: { after: now.to } }));
        now = { to: found.to, of: found.of, faults: [...now.faults, ...found.faults] };
        setCheck(now);
      } while (now.to < now.of);
      askAgain(queries, "/api/records", "/api/audit");
    } catch (failed) {
      setError(failed);
    }
    setBusy(false);
  };
  const done = check !== null && !busy && error === null;
  return (
    <Paper component="section" aria-label="Signed records" sx={styles.sheet}>
      <Typography variant="h2">Signed records</Typography>
      <Typography sx={{ fontSize: 14.5 }}>
        {records.signed} signed, {records.corrections} corrections beside them: a chain of {records.links}{" "}
        links, in which each holds the digest of the one before.
      </Typography>
      {!check && records.checked_at && (
        <Box sx={styles.line}>
          <VerdictMark verdict="fine" size={15} />
          Followed whole {dayAndTime(records.checked_at)} by {records.checked_by}: all of it held.
        </Box>
      )}
      {!check && !records.checked_at && (
        <Box sx={styles.line}>
          <VerdictMark verdict="mind" size={15} />
          Nobody has followed it from end to end yet.
        </Box>
      )}
      {check && busy && (
        <Box sx={{ py: 1 }}>
          <LinearProgress
            variant="determinate"
            value={check.of ? (100 * check.to) / check.of : 100}
            aria-label="Links looked at"
          />
          <Box sx={styles.small}>
            {check.to} of {check.of} links looked at
          </Box>
        </Box>
      )}
      {done && check.faults.length === 0 && (
        <Box sx={styles.line} role="status">
          <VerdictMark verdict="fine" size={15} />
          All {check.of} links hold, and every record is as it was signed.
        </Box>
      )}
      {check && check.faults.length > 0 && (
        <Alert severity="error" sx={{ my: 1 }}>
          <b>First broken place: {check.faults[0]}.</b>
          {check.faults.slice(1, 6).map((fault) => (
            <div key={fault}>{fault}.</div>
          ))}
          {check.faults.length > 6 && <div>and {check.faults.length - 6} more</div>}
          Keep this machine as it is, and put a backup back in a corner to compare.
        </Alert>
      )}
      {error !== null && <Trouble error={error} />}
      {records.links > 0 && (
        <Box sx={{ ...styles.small, my: 0.8 }}>
          It ends in link {records.links}; written down elsewhere, this shows that none was cut off:
          <Box sx={styles.digest}>{records.ends_in}</Box>
        </Box>
      )}
      <Button variant="outlined" disabled={busy} onClick={() => void follow()}>
        {busy ? "Following it…" : "Follow it now"}
      </Button>
    </Paper>
  );
}
