import { Box, Button, Paper, Typography } from "@mui/material";
import { useOutletContext } from "react-router";
import { api } from "../api/client";
import type { Person } from "../api/types";
import { Loading, Trouble } from "../frame/states";
import { useTitle } from "../frame/useTitle";
import { narrow, tokens } from "../theme";
import { Calendar } from "./Calendar";
import { NewPassword } from "./NewPassword";
import { SecondFactor } from "./SecondFactor";
import { Sessions } from "./Sessions";

const styles = {
  page: { p: 2 },
  parts: {
    display: "grid",
    gap: 2,
    gridTemplateColumns: {
      xs: "minmax(0, 1fr)",
      sm: "repeat(2, minmax(0, 1fr))",
      lg: "repeat(3, minmax(0, 1fr))",
    },
    alignItems: "start",
    mt: 1.5,
  },
  sheet: { border: `1px solid ${tokens.hairline}`, p: 1.5, mt: 2 },
  small: { ...narrow, fontSize: 13.5, color: tokens.slate, mb: 1 },
} as const;

/** One's own account: how one comes in, where one is in, and what is kept of one. */
export default function AccountPage() {
  useTitle("My account");
  const person = useOutletContext<Person>();
  const found = api.useQuery("get", "/api/account");
  if (found.isPending) return <Loading what="your account" />;
  if (found.isError) return <Trouble error={found.error} again={() => void found.refetch()} />;
  const account = found.data;
  return (
    <Box component="main" sx={styles.page}>
      <Typography variant="h1">My account: {account.name}</Typography>
      <Typography sx={{ color: tokens.slate }}>
        You log in as {account.username}
        {account.email ? `; letters go to ${account.email}` : "; there is no e-mail for you"}. The chief
        instructor changes both.
      </Typography>
      <Box sx={styles.parts}>
        <SecondFactor account={account} />
        <NewPassword account={account} />
        <Box>
          <Sessions account={account} />
          <Calendar account={account} />
          {person.student_id !== null && (
            <Paper component="section" aria-label="What is kept of me" sx={styles.sheet}>
              <Typography variant="h2">What is kept of me</Typography>
              <Box sx={styles.small}>
                Your sorties that have been debriefed, their records and recordings, your way through your
                courses, in open forms. What is to be erased, the chief instructor decides when you ask.
              </Box>
              <Button variant="outlined" component="a" href={`/api/students/${person.student_id}/export.zip`}>
                Take it along
              </Button>
            </Paper>
          )}
        </Box>
      </Box>
    </Box>
  );
}
