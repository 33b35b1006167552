import { Box, Button, Paper, Typography } from "@mui/material";
import { Link } from "react-router";
import { api } from "../api/client";
import { tokens } from "../theme";
import { VerdictMark } from "../verdict/VerdictMark";

const styles = {
  sheet: { border: `1px solid ${tokens.hairline}`, p: 2, mb: 3 },
  step: {
    display: "grid",
    gridTemplateColumns: "28px minmax(0, 1fr) auto",
    columnGap: 1,
    alignItems: "center",
    py: 1,
    borderTop: `1px solid ${tokens.hairline}`,
  },
  number: { fontSize: 20, fontWeight: 760, color: tokens.plan },
  then: { color: tokens.slate, fontSize: 14.5 },
} as const;

/** What an empty school needs before its first flight, the next thing to do the biggest; gone when it is all done. */
export function FirstSteps() {
  const found = api.useQuery("get", "/api/first-steps");
  const steps = found.data?.steps ?? [];
  const next = steps.find((step) => !step.done);
  if (!next) return null;
  const left = steps.filter((step) => !step.done).length;
  return (
    <Paper component="section" aria-label="First steps" sx={styles.sheet}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        {found.data?.school}: {left} {left === 1 ? "step" : "steps"} to the first flight
      </Typography>
      {steps.map((step, i) => (
        <Box key={step.key} sx={styles.step}>
          {step.done ? <VerdictMark verdict="fine" size={20} /> : <Box sx={styles.number}>{i + 1}</Box>}
          <Box>
            <Typography sx={{ fontWeight: step === next ? 760 : 600, fontSize: step === next ? 20 : 16 }}>
              {step.words}
            </Typography>
            {!step.done && <Box sx={styles.then}>{step.then}</Box>}
          </Box>
          {!step.done && (
            <Button
              component={Link}
              to={step.to}
              variant={step === next ? "contained" : "text"}
              aria-label={`Go to: ${step.words}`}
            >
              {step === next ? "Do it now" : "Go there"}
            </Button>
          )}
        </Box>
      ))}
    </Paper>
  );
}
