import { Alert, Box, LinearProgress } from "@mui/material";
import { useLoading } from "./useSession";

/** That what is shown is not all of the demo school yet. */
export function LoadingBar() {
  const loading = useLoading();
  if (!loading) return null;
  const words = `${loading.done} of ${loading.of}`;
  return (
    <Box role="status">
      <LinearProgress
        variant="determinate"
        value={(100 * loading.done) / loading.of}
        aria-label="Demo school loaded"
        aria-valuetext={words}
      />
      <Alert severity="info" sx={{ borderRadius: 0, py: 0 }}>
        The demo school is being loaded: {words} parts. Records, lists and counts are not complete yet; this
        page is renewed when they are.
      </Alert>
    </Box>
  );
}
