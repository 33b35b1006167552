import { Alert, Box, Button, CircularProgress, Typography } from "@mui/material";
import { Failed, inOneLine } from "../api/client";
import type { Problem } from "../api/types";

const styles = {
  waiting: { p: 4, display: "flex", gap: 2, alignItems: "center" },
} as const;

export function Loading({ what }: { what: string }) {
  return (
    <Box role="status" sx={styles.waiting}>
      <CircularProgress size={22} aria-hidden />
      <Typography>Reading {what}…</Typography>
    </Box>
  );
}

export function Trouble({ error, again }: { error: unknown; again?: () => void }) {
  return (
    <Alert
      severity="error"
      sx={{ m: 2 }}
      action={
        again && (
          <Button color="inherit" onClick={again}>
            Try again
          </Button>
        )
      }
    >
      {error instanceof Failed ? <Lines of={error.problems} /> : String(error)}
    </Alert>
  );
}

/** What was refused, a line each. */
export function Lines({ of }: { of: readonly Problem[] }) {
  return of.map((p) => <div key={p.where + p.what}>{inOneLine(p)}</div>);
}

/** The same by itself; nothing where nothing was refused. */
export function Refusals({ of }: { of: readonly Problem[] }) {
  return (
    of.length > 0 && (
      <Alert severity="error">
        <Lines of={of} />
      </Alert>
    )
  );
}

export function Empty({ children }: { children: React.ReactNode }) {
  return <Typography sx={{ color: "text.secondary", p: 2 }}>{children}</Typography>;
}
