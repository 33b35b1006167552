import { Box, Button, Paper, Typography } from "@mui/material";
import { api } from "../api/client";
import type { Account } from "../api/types";
import { dayAndTime } from "../frame/dates";
import { Trouble } from "../frame/states";
import { narrow, tokens } from "../theme";
import { useAccountNow } from "./useAccountNow";

const styles = {
  sheet: { border: `1px solid ${tokens.hairline}`, p: 1.5 },
  one: {
    display: "flex",
    justifyContent: "space-between",
    alignItems: "center",
    gap: 1,
    borderTop: `1px solid ${tokens.hairline}`,
    py: 0.8,
  },
  small: { ...narrow, fontSize: 13.5, color: tokens.slate, overflowWrap: "anywhere" },
} as const;

/** Where one is logged in; each can be ended from here. */
export function Sessions({ account }: { account: Account }) {
  const ending = api.useMutation("post", "/api/account/sessions/end", useAccountNow());
  const others = account.sessions.filter((one) => !one.this);
  return (
    <Paper component="section" aria-label="Where I am logged in" sx={styles.sheet}>
      <Typography variant="h2">Where I am logged in</Typography>
      {ending.isError && <Trouble error={ending.error} />}
      {account.sessions.map((one) => (
        <Box key={one.id} sx={styles.one}>
          <Box>
            <Typography sx={{ fontWeight: one.this ? 700 : 500 }}>
              {one.this ? "Here, now" : `Last used ${one.seen ? dayAndTime(one.seen) : "at a time not kept"}`}
            </Typography>
            <Box sx={styles.small}>
              {one.agent || "a program that does not say its name"}
              {one.address && `, from ${one.address}`}
              {one.began && `, since ${dayAndTime(one.began)}`}
            </Box>
          </Box>
          {!one.this && (
            <Button disabled={ending.isPending} onClick={() => ending.mutate({ body: { id: one.id } })}>
              End it
            </Button>
          )}
        </Box>
      ))}
      {others.length > 1 && (
        <Button
          variant="outlined"
          disabled={ending.isPending}
          onClick={() => ending.mutate({ body: { id: null } })}
        >
          End all but this one
        </Button>
      )}
    </Paper>
  );
}
