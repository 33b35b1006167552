import { Box, Button, Paper, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { api } from "../api/client";
import type { Account } from "../api/types";
import { Trouble } from "../frame/states";
import { narrow, tokens } from "../theme";
import { useAccountNow } from "./useAccountNow";

const styles = {
  sheet: { border: `1px solid ${tokens.hairline}`, p: 1.5, mt: 2, display: "grid", gap: 1 },
  small: { ...narrow, fontSize: 13.5, color: tokens.slate },
  keys: { display: "flex", flexWrap: "wrap", gap: 1 },
} as const;

/** The address at which one's own calendar reads the bookings: made, made anew, taken away. */
export function Calendar({ account }: { account: Account }) {
  const [copied, setCopied] = useState(false);
  const renewing = api.useMutation(
    "post",
    "/api/account/calendar",
    useAccountNow(() => setCopied(false)),
  );
  const taking = api.useMutation(
    "delete",
    "/api/account/calendar",
    useAccountNow(() => setCopied(false)),
  );
  const failed = renewing.error ?? taking.error;
  const busy = renewing.isPending || taking.isPending;
  const { calendar } = account;
  const copy = () => void navigator.clipboard?.writeText(calendar).then(() => setCopied(true));
  return (
    <Paper component="section" aria-label="My bookings in a calendar" sx={styles.sheet}>
      <Typography variant="h2">My bookings in a calendar</Typography>
      <Box sx={styles.small}>
        {calendar
          ? "Subscribe to this address in your calendar. Whoever has it reads your bookings: when it is in wrong hands, make another."
          : "An address that nobody can guess, from which your calendar reads what you are booked for."}
      </Box>
      {failed && <Trouble error={failed} />}
      {calendar && (
        <TextField
          size="small"
          label="Address"
          value={calendar}
          slotProps={{ htmlInput: { readOnly: true } }}
        />
      )}
      <Box sx={styles.keys}>
        {calendar && (
          <Button variant="outlined" onClick={copy}>
            {copied ? "Copied" : "Copy it"}
          </Button>
        )}
        <Button variant={calendar ? "text" : "outlined"} disabled={busy} onClick={() => renewing.mutate({})}>
          {calendar ? "Make another" : "Make the address"}
        </Button>
        {calendar && (
          <Button disabled={busy} onClick={() => taking.mutate({})}>
            Take it away
          </Button>
        )}
      </Box>
    </Paper>
  );
}
