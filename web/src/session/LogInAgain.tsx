import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  TextField,
  Typography,
} from "@mui/material";
import { useEffect, useState } from "react";
import type { Person } from "../api/types";
import { Trouble } from "../frame/states";
import { goOn, whenEnded } from "./again";
import { useLogIn } from "./useSession";

/** The session has ended: a log-in inside the page, then on with the work. */
export function LogInAgain({ person }: { person: Person }) {
  const [ended, setEnded] = useState(false);
  const [username, setUsername] = useState("");
  const [password, setPassword] = useState("");
  const logIn = useLogIn();
  useEffect(() => whenEnded(setEnded), []);
  if (!ended) return null;
  const submit = (event: React.FormEvent) => {
    event.preventDefault();
    logIn.mutate(
      { body: { username, password } },
      {
        onSuccess: (session) => {
          setPassword("");
          // Somebody else: what is on this screen is not theirs.
          if (session.person?.id !== person.id) window.location.assign("/");
          else goOn();
        },
      },
    );
  };
  return (
    <Dialog open fullWidth maxWidth="xs" aria-labelledby="again-title">
      <form onSubmit={submit}>
        <DialogTitle id="again-title">Your session has ended</DialogTitle>
        <DialogContent sx={{ display: "grid", gap: 2 }}>
          <Typography>Log in again as {person.name}, and the work goes on where it was.</Typography>
          <TextField
            autoFocus
            required
            label="Name to log in"
            autoComplete="username"
            value={username}
            onChange={(e) => setUsername(e.target.value)}
          />
          <TextField
            required
            label="Password"
            type="password"
            autoComplete="current-password"
            value={password}
            onChange={(e) => setPassword(e.target.value)}
          />
          {logIn.isError && <Trouble error={logIn.error} />}
        </DialogContent>
        <DialogActions>
          <Button onClick={() => window.location.assign("/")}>Leave</Button>
          <Button type="submit" variant="contained" disabled={logIn.isPending}>
            Log in
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
