import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import type { Person } from "../api/types";
import { Trouble } from "../frame/states";
import { goOn, whenEnded } from "./again";
import { useCredentials } from "./LogInFields";

/** The session has ended: a log-in inside the page, then on with the work. */
export function LogInAgain({ person }: { person: Person }) {
  const [ended, setEnded] = useState(false);
  const { logIn, body, fields, forget } = useCredentials();
  useEffect(() => whenEnded(setEnded), []);
  if (!ended) return null;
  const submit = (event: React.FormEvent) => {
    event.preventDefault();
    logIn.mutate(
      { body },
      {
        onSuccess: (session) => {
          if (session.asks_code) return;
          forget();
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
          {fields}
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
