import { Box, Button, Paper, Typography } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { api } from "../api/client";
import type { Safe } from "../api/types";
import { dayAndTime } from "../frame/dates";
import { Loading, Trouble } from "../frame/states";
import { narrow, tokens } from "../theme";
import { VerdictMark } from "../verdict/VerdictMark";

const styles = {
  sheet: { border: `1px solid ${tokens.hairline}`, p: 1.5 },
  line: { display: "flex", gap: 0.8, alignItems: "flex-start", fontSize: 14.5, py: 0.3 },
  small: { ...narrow, fontSize: 13.5, color: tokens.slate },
  keys: { display: "flex", gap: 1, mt: 1 },
} as const;

/** When the school's data were last put safely aside, whether they can be had back, and keys to do both now. */
export function SafeKeeping() {
  const asked = ["get", "/api/safe-keeping"] as const;
  const found = api.useQuery(...asked);
  const client = useQueryClient();
  const stored = { onSuccess: (now: Safe) => client.setQueryData(asked, now) };
  const making = api.useMutation("post", "/api/safe-keeping/backup", stored);
  const trying = api.useMutation("post", "/api/safe-keeping/trial", stored);
  if (found.isPending) return <Loading what="how the data are kept" />;
  if (found.isError) return <Trouble error={found.error} again={() => void found.refetch()} />;
  const { last, tried, warning, lines, every_h } = found.data;
  const busy = making.isPending || trying.isPending;
  const failed = making.error ?? trying.error;
  return (
    <Paper component="section" aria-label="Safe keeping" sx={styles.sheet}>
      <Typography variant="h2">Safe keeping</Typography>
      {warning && (
        <Box sx={{ ...styles.line, fontWeight: 650 }}>
          <VerdictMark verdict="stop" size={15} />
          {warning}
        </Box>
      )}
      {last && (
        <Box sx={styles.line}>
          <VerdictMark verdict="fine" size={15} />
          <span>
            Last good backup {dayAndTime(last.at)}
            <Box sx={styles.small}>
              {last.archive}: {last.words}
            </Box>
          </span>
        </Box>
      )}
      {tried?.good && (
        <Box sx={styles.line}>
          <VerdictMark verdict="fine" size={15} />
          <span>
            Put back in a corner {dayAndTime(tried.at)}
            <Box sx={styles.small}>{tried.words}</Box>
          </span>
        </Box>
      )}
      <Box sx={styles.small}>
        {every_h > 0
          ? `One is made every ${every_h} hours while the server runs; the last of 7 days, 5 weeks and 12 months are kept.`
          : "None is made by itself: this server was started without a schedule."}
      </Box>
      {lines.length > 1 && (
        <Box component="details" sx={styles.small}>
          <summary>The last {lines.length}</summary>
          {lines.map((line) => (
            <div key={line.at + line.what}>
              {dayAndTime(line.at)} {line.what}: {line.good ? "" : "failed, "}
              {line.words}
            </div>
          ))}
        </Box>
      )}
      {failed && <Trouble error={failed} />}
      <Box sx={styles.keys}>
        <Button variant="outlined" disabled={busy} onClick={() => making.mutate({})}>
          {making.isPending ? "Making it…" : "Back up now"}
        </Button>
        <Button variant="outlined" disabled={busy || !last} onClick={() => trying.mutate({})}>
          {trying.isPending ? "Putting it back…" : "Try a restore"}
        </Button>
      </Box>
    </Paper>
  );
}
