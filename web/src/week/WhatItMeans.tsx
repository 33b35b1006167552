import { Alert, Box, Button, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Week } from "../api/types";
import { narrow, tokens } from "../theme";
import { VerdictMark } from "../verdict/VerdictMark";
import { findings, inWords, lost, spotOf, type Spot } from "./spot";
import type { Moving } from "./useMoving";

const styles = {
  bar: {
    border: `1px solid ${tokens.hairline}`,
    bgcolor: tokens.sheet,
    px: 1.5,
    py: 0.8,
    minHeight: 66,
    display: "flex",
    alignItems: "center",
    columnGap: 2,
    rowGap: 0.5,
    flexWrap: { xs: "wrap", md: "nowrap" },
  },
  when: { ...narrow, fontSize: 20, fontWeight: 740, whiteSpace: "nowrap", lineHeight: 1.1 },
  who: { fontSize: 13.5, color: tokens.slate },
  finding: { display: "flex", gap: 0.7, alignItems: "center", fontSize: 14, lineHeight: 1.2 },
  said: { flex: 1, minWidth: 0, display: "flex", flexWrap: "wrap", columnGap: 2, rowGap: 0.3 },
} as const;

interface Props {
  week: Week;
  moving: Moving;
  free: Spot | null;
  onPlan: (spot: Spot) => void;
}

/** What the booking that is chosen, or where it is held, means: read while it is dragged. */
export function WhatItMeans({ week, moving, free, onPlan }: Props) {
  const { sortie, ghost, busy, done, trouble } = moving;
  if (trouble)
    return (
      <Alert severity="error" sx={{ minHeight: 66 }}>
        {trouble}
      </Alert>
    );
  if (free) {
    const lane = [
      ...week.aircraft.filter((a) => a.id === free.aircraft),
      ...week.instructors.filter((i) => i.id === free.instructor),
    ][0];
    return (
      <Box sx={styles.bar} role="status">
        <Box>
          <Box sx={styles.when}>{inWords(week, free)}</Box>
          <Box sx={styles.who}>{lane?.name}</Box>
        </Box>
        <Findings week={week} who={{}} spot={free} />
        <Button variant="contained" onClick={() => onPlan(free)}>
          Plan a sortie here
        </Button>
      </Box>
    );
  }
  if (!sortie)
    return (
      <Box sx={styles.bar}>
        <Typography sx={{ color: tokens.slate, flex: 1 }}>
          {done
            ? done.words
            : "Choose a booking to see what it needs. Drag it to another time, day or lane, its end to make it longer; or the arrow keys, with Shift for its length."}
        </Typography>
        {done && <Undo moving={moving} />}
      </Box>
    );
  const spot = ghost ?? spotOf(week, sortie);
  const names = {
    aircraft: week.aircraft.find((a) => a.id === spot.aircraft)?.name,
    instructor: week.instructors.find((i) => i.id === spot.instructor)?.name,
  };
  return (
    <Box sx={styles.bar} role="status">
      <Box>
        <Box sx={styles.when}>{inWords(week, spot)}</Box>
        <Box sx={styles.who}>
          {sortie.student}, {names.aircraft}, {names.instructor}
        </Box>
      </Box>
      {sortie.cancelled === null ? (
        <Findings week={week} who={sortie} spot={spot} />
      ) : (
        <Box sx={styles.said}>Cancelled: {sortie.cancelled}</Box>
      )}
      {ghost ? (
        <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>
          <Box sx={styles.who}>{lost(sortie, spotOf(week, sortie), ghost).join(" ")}</Box>
          <Button onClick={moving.drop}>Leave it</Button>
          <Button variant="contained" disabled={busy} onClick={() => void moving.store(ghost)}>
            Move it
          </Button>
        </Box>
      ) : (
        <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>
          {done && <Undo moving={moving} />}
          {!sortie.trouble && (
            <Button variant="outlined" component={Link} to={`/sorties/${sortie.id}`}>
              Open
            </Button>
          )}
        </Box>
      )}
    </Box>
  );
}

function Undo({ moving }: { moving: Moving }) {
  return (
    <Button disabled={moving.busy} onClick={() => void moving.undo()}>
      Undo the move
    </Button>
  );
}

function Findings(props: { week: Week; who: Parameters<typeof findings>[1]; spot: Spot }) {
  return (
    <Box sx={styles.said} aria-label="What it means">
      {findings(props.week, props.who, props.spot).map((f) => (
        <Box key={f.words} sx={styles.finding}>
          <VerdictMark verdict={f.verdict} size={15} />
          {f.words}
        </Box>
      ))}
    </Box>
  );
}
