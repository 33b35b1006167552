import { Alert, Box, Button, Paper, TextField, Typography } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../api/client";
import { askAgain } from "../api/questions";
import type { Account } from "../api/types";
import { Trouble } from "../frame/states";
import { narrow, tokens } from "../theme";
import { VerdictMark } from "../verdict/VerdictMark";
import { useAccountNow } from "./useAccountNow";

const styles = {
  sheet: { border: `1px solid ${tokens.hairline}`, p: 1.5, display: "grid", gap: 1.5 },
  small: { ...narrow, fontSize: 13.5, color: tokens.slate },
  line: { display: "flex", gap: 0.8, alignItems: "center" },
  keys: { display: "flex", flexWrap: "wrap", gap: 1 },
  scan: { display: "flex", flexWrap: "wrap", gap: 2, alignItems: "center" },
  codes: {
    fontFamily: "monospace",
    fontSize: 16,
    columns: 2,
    m: 0,
    pl: 0,
    listStylePosition: "inside",
    "& li": { py: 0.3 },
  },
} as const;

/** A code from a device besides the password: set up, taken off, and the codes for when the device is lost. */
export function SecondFactor({ account }: { account: Account }) {
  const queries = useQueryClient();
  const [password, setPassword] = useState("");
  const [code, setCode] = useState("");
  const [codes, setCodes] = useState<string[] | null>(null);
  const shown = (found: { codes: string[] }) => {
    setCodes(found.codes);
    setPassword("");
    setCode("");
    begin.reset();
    askAgain(queries, "/api/account");
  };
  const begin = api.useMutation("post", "/api/account/second-factor");
  const on = api.useMutation("post", "/api/account/second-factor/on", { onSuccess: shown });
  const again = api.useMutation("post", "/api/account/second-factor/codes", { onSuccess: shown });
  const off = api.useMutation(
    "post",
    "/api/account/second-factor/off",
    useAccountNow(() => {
      setPassword("");
      setCodes(null);
    }),
  );
  const failed = begin.error ?? on.error ?? again.error ?? off.error;
  const body = { password };
  const ready = password !== "";
  const scan = account.second_factor ? undefined : begin.data;
  return (
    <Paper
      component="form"
      aria-label="Second factor"
      sx={styles.sheet}
      onSubmit={(event: React.FormEvent) => event.preventDefault()}
    >
      <input type="text" hidden autoComplete="username" value={account.username} readOnly />
      <Typography variant="h2">Second factor</Typography>
      <Box sx={styles.line}>
        <VerdictMark verdict={account.second_factor ? "fine" : "mind"} size={16} />
        {account.second_factor
          ? `On: a code is asked for at every log-in. ${account.codes_left} recovery codes left.`
          : "Off: whoever knows your password is in, and can sign as you."}
      </Box>
      {failed && <Trouble error={failed} />}
      {codes && (
        <Alert severity="warning" role="status">
          Write these down now: they are not shown again. Each opens once, when your device is not at hand.
          <Box component="ol" sx={styles.codes} aria-label="Recovery codes">
            {codes.map((one) => (
              <li key={one}>{one}</li>
            ))}
          </Box>
        </Alert>
      )}
      {scan && (
        <>
          <Box sx={styles.scan}>
            <img src={scan.picture} alt="A square to scan with your app" width={190} height={190} />
            <Box sx={styles.small}>
              Scan it with an app for codes, or type this in there:
              <Box sx={{ fontFamily: "monospace", fontSize: 14.5, color: tokens.ink, maxWidth: 230 }}>
                {scan.secret}
              </Box>
            </Box>
          </Box>
          <TextField
            size="small"
            label="The code that the app shows now"
            autoComplete="one-time-code"
            value={code}
            onChange={(e) => setCode(e.target.value)}
          />
          <Button
            variant="contained"
            disabled={code.trim() === "" || on.isPending}
            onClick={() => on.mutate({ body: { code } })}
          >
            Turn it on
          </Button>
        </>
      )}
      {!scan && (
        <>
          <TextField
            size="small"
            type="password"
            label="Your password"
            autoComplete="current-password"
            value={password}
            onChange={(e) => setPassword(e.target.value)}
          />
          <Box sx={styles.keys}>
            {account.second_factor ? (
              <>
                <Button
                  variant="outlined"
                  disabled={!ready || again.isPending}
                  onClick={() => again.mutate({ body })}
                >
                  New recovery codes
                </Button>
                <Button color="error" disabled={!ready || off.isPending} onClick={() => off.mutate({ body })}>
                  Take it off
                </Button>
              </>
            ) : (
              <Button
                variant="outlined"
                disabled={!ready || begin.isPending}
                onClick={() => begin.mutate({ body })}
              >
                Set it up
              </Button>
            )}
          </Box>
        </>
      )}
    </Paper>
  );
}
