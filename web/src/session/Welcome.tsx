import { Box, Button, Paper, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { api } from "../api/client";
import { Loading, Trouble } from "../frame/states";
import { useTitle } from "../frame/useTitle";
import { tokens } from "../theme";
import { Doorway } from "./Doorway";
import { useEnter } from "./useSession";

const styles = {
  form: {
    p: 3,
    width: "100%",
    maxWidth: 420,
    border: `1px solid ${tokens.hairline}`,
    display: "grid",
    gap: 2,
  },
  rules: { m: 0, pl: 2.5, fontSize: 14, color: tokens.slate },
} as const;

const LINK = /^\/welcome\/([^/]+)\/([^/]+)$/;

/** The name and the token of a link in, where the address is one. */
export function linkAt(path: string): { name: string; token: string } | null {
  const [, name, token] = LINK.exec(path) ?? [];
  return name && token ? { name, token } : null;
}

/** Somebody comes in by a link, and sets a password of their own. */
export function Welcome({ link, onIn }: { link: { name: string; token: string }; onIn: () => void }) {
  useTitle("Welcome");
  const path = link;
  const found = api.useQuery("get", "/api/session/welcome/{name}/{token}", { params: { path } });
  const [password, setPassword] = useState("");
  const [again, setAgain] = useState("");
  const enter = useEnter();
  const differ = again !== "" && again !== password;
  if (found.isPending) return <Loading what="your link" />;
  if (found.isError)
    return (
      <Doorway words="This link does not let anybody in.">
        <Trouble error={found.error} />
        <Button variant="outlined" onClick={onIn}>
          To the log-in
        </Button>
      </Doorway>
    );
  const { name, username, rules } = found.data;
  return (
    <Doorway words={`Welcome, ${name}. Your name to log in is ${username}.`}>
      <Paper
        component="form"
        sx={styles.form}
        onSubmit={(event: React.FormEvent) => {
          event.preventDefault();
          if (again !== password) return;
          enter.mutate({ params: { path }, body: { password } }, { onSuccess: onIn });
        }}
      >
        <input type="text" hidden autoComplete="username" value={username} readOnly />
        <TextField
          label="A password of your own"
          type="password"
          autoComplete="new-password"
          autoFocus
          required
          value={password}
          onChange={(e) => setPassword(e.target.value)}
        />
        <TextField
          label="The same again"
          type="password"
          autoComplete="new-password"
          required
          error={differ}
          helperText={differ ? "The two differ." : ""}
          value={again}
          onChange={(e) => setAgain(e.target.value)}
        />
        <Rules rules={rules} />
        {enter.isError && <Trouble error={enter.error} />}
        <Button type="submit" variant="contained" disabled={enter.isPending || differ}>
          Set it and come in
        </Button>
      </Paper>
    </Doorway>
  );
}

export function Rules({ rules }: { rules: readonly string[] }) {
  return (
    <Box>
      <Typography sx={{ fontSize: 14, fontWeight: 650 }}>What is asked of a password</Typography>
      <Box component="ul" sx={styles.rules}>
        {rules.map((rule) => (
          <li key={rule}>{rule}</li>
        ))}
      </Box>
    </Box>
  );
}
