import { Box, Paper, Typography } from "@mui/material";
import type { Records } from "../api/types";
import { fullDay } from "../frame/dates";
import { narrow, tokens } from "../theme";

const styles = {
  sheet: { border: `1px solid ${tokens.hairline}`, p: 1.5 },
  small: { ...narrow, fontSize: 13.5, color: tokens.slate },
} as const;

/** Who was erased, by number, and what is kept of them until when. */
export function ErasedSheet({ erased }: { erased: Records["erased"] }) {
  return (
    <Paper component="section" aria-label="Erased" sx={styles.sheet}>
      <Typography variant="h2">Erased at their request</Typography>
      {erased.length === 0 && (
        <Box sx={styles.small}>Nobody. Somebody is erased under People, by a chief with their password.</Box>
      )}
      {erased.map((one) => (
        <Box key={one.person} sx={{ py: 0.4, fontSize: 14.5 }}>
          <b>Person {one.person}</b>, {fullDay(one.at)}, decided by {one.by}: {one.reason}
          <Box sx={styles.small}>
            {one.kept > 0 && one.kept_until
              ? `${one.kept} signed records are kept until ${fullDay(one.kept_until)}`
              : "nothing is kept"}
          </Box>
        </Box>
      ))}
    </Paper>
  );
}
