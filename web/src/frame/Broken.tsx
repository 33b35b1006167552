import { Alert, Button } from "@mui/material";
import { useEffect } from "react";
import { useRouteError } from "react-router";

/** A fault of ours, said inside the page: the way to every other place is still there. */
export function Broken() {
  const error = useRouteError();
  useEffect(() => console.error(error), [error]);
  return (
    <Alert
      severity="error"
      sx={{ m: 2 }}
      action={
        <Button color="inherit" onClick={() => window.location.reload()}>
          Load it again
        </Button>
      }
    >
      This screen failed, and what you entered is kept. Load it again, or choose another place above; if it
      fails again, say so.
    </Alert>
  );
}
