import { Button, Paper, Typography } from "@mui/material";
import { useState } from "react";
import { api } from "../api/client";
import { Trouble } from "../frame/states";
import { useTitle } from "../frame/useTitle";
import { tokens } from "../theme";
import { Doorway } from "./Doorway";
import { useCredentials } from "./LogInFields";
import { useSession } from "./useSession";

const styles = {
  form: {
    p: 3,
    width: "100%",
    maxWidth: 420,
    border: `1px solid ${tokens.hairline}`,
    display: "grid",
    gap: 2,
  },
} as const;

export function LogIn() {
  useTitle("Log in");
  const { logIn, body, fields, username } = useCredentials();
  const school = useSession().data?.school ?? "";
  return (
    <Doorway words={`${school && `${school}. `}Height is the budget. Log in to plan, brief, fly and sign.`}>
      <Paper
        component="form"
        sx={styles.form}
        onSubmit={(event: React.FormEvent) => {
          event.preventDefault();
          logIn.mutate({ body });
        }}
      >
        {fields}
        {logIn.isError && <Trouble error={logIn.error} />}
        <Button type="submit" variant="contained" disabled={logIn.isPending}>
          Log in
        </Button>
        <Forgotten username={username} />
      </Paper>
    </Doorway>
  );
}

/** A link by letter, where letters are sent; else whom to ask. */
function Forgotten({ username }: { username: string }) {
  const mail = useSession().data?.mail ?? false;
  const [open, setOpen] = useState(false);
  const asking = api.useMutation("post", "/api/session/forgot");
  if (!open) return <Button onClick={() => setOpen(true)}>I have forgotten my password</Button>;
  if (!mail) return <Typography>The chief instructor makes you a link for a new one.</Typography>;
  return (
    <>
      {asking.isError && <Trouble error={asking.error} />}
      {asking.data ? (
        <Typography role="status">{asking.data.words}</Typography>
      ) : (
        <Button
          variant="outlined"
          disabled={username.trim() === "" || asking.isPending}
          onClick={() => asking.mutate({ body: { username } })}
        >
          Send a link to the e-mail of this name
        </Button>
      )}
    </>
  );
}
