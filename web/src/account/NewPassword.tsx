import { Button, Paper, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { api } from "../api/client";
import type { Account } from "../api/types";
import { Trouble } from "../frame/states";
import { Rules } from "../session/Welcome";
import { tokens } from "../theme";
import { useAccountNow } from "./useAccountNow";

const styles = {
  sheet: { border: `1px solid ${tokens.hairline}`, p: 1.5, display: "grid", gap: 1.5 },
} as const;

const BLANK = { old: "", new: "", again: "" };

/** Another password; wherever else one is logged in, one is not any more. */
export function NewPassword({ account }: { account: Account }) {
  const [typed, setTyped] = useState(BLANK);
  const changing = api.useMutation(
    "post",
    "/api/account/password",
    useAccountNow(() => setTyped(BLANK)),
  );
  const differ = typed.again !== "" && typed.again !== typed.new;
  const field = (name: keyof typeof BLANK, label: string, autoComplete: string) => (
    <TextField
      size="small"
      required
      type="password"
      label={label}
      autoComplete={autoComplete}
      value={typed[name]}
      onChange={(e) => setTyped((before) => ({ ...before, [name]: e.target.value }))}
      error={name === "again" && differ}
      helperText={name === "again" && differ ? "The two differ." : ""}
    />
  );
  return (
    <Paper
      component="form"
      aria-label="Another password"
      sx={styles.sheet}
      onSubmit={(event: React.FormEvent) => {
        event.preventDefault();
        if (typed.again === typed.new) changing.mutate({ body: { old: typed.old, new: typed.new } });
      }}
    >
      <input type="text" hidden autoComplete="username" value={account.username} readOnly />
      <Typography variant="h2">Another password</Typography>
      {changing.isError && <Trouble error={changing.error} />}
      {changing.isSuccess && (
        <Typography role="status">It is changed; elsewhere you are logged out.</Typography>
      )}
      {field("old", "The password of now", "current-password")}
      {field("new", "The new one", "new-password")}
      {field("again", "The new one again", "new-password")}
      <Rules rules={account.rules} />
      <Button type="submit" variant="outlined" disabled={changing.isPending || differ}>
        Change the password
      </Button>
    </Paper>
  );
}
