import { Box, Button, Paper, Typography } from "@mui/material";
import { narrow, tokens } from "../theme";

const styles = {
  sheet: { border: `1px solid ${tokens.hairline}`, p: 1.5 },
  small: { ...narrow, fontSize: 13.5, color: tokens.slate, mb: 1 },
} as const;

/** Everything of the school as one file in open forms. */
export function TakeAlong() {
  return (
    <Paper component="section" aria-label="Take everything along" sx={styles.sheet}>
      <Typography variant="h2">Take everything along</Typography>
      <Box sx={styles.small}>
        Rows as JSON, tables as CSV, signed records word for word and as PDF, recordings, and checksums of it
        all. An empty installation takes it and shows the same pages. Passwords do not leave. One
        student&apos;s alone is on their page.
      </Box>
      <Button variant="outlined" component="a" href="/api/export.zip">
        Export the school
      </Button>
    </Paper>
  );
}
