import { Box, MenuItem, Paper, TextField, Typography } from "@mui/material";
import { useState, type ReactNode } from "react";
import { Link } from "react-router";
import { api } from "../api/client";
import type { SchoolSeen } from "../api/types";
import { day } from "../frame/dates";
import { Empty, Loading, Trouble } from "../frame/states";
import { useTitle } from "../frame/useTitle";
import { narrow, tokens } from "../theme";
import { VerdictMark } from "../verdict/VerdictMark";
import { FigureCosts } from "./FigureCosts";
import { hours } from "../requirements/hours";
import { SchoolHead } from "./SchoolHead";
import { SpinsBesideTheirCards } from "./SpinsBeside";

const styles = {
  page: {
    height: "100%",
    display: "grid",
    gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(0, 1.35fr) minmax(0, 1fr)" },
    gridTemplateRows: { md: "auto minmax(0, 1fr)" },
    overflow: { xs: "auto", md: "hidden" },
    columnGap: 2.5,
    p: 2,
  },
  head: { gridColumn: "1 / -1" },
  side: { overflow: { xs: "visible", md: "auto" }, display: "grid", gap: 2, alignContent: "start" },
  line: { color: tokens.slate, fontSize: 14.5 },
  small: { ...narrow, fontSize: 13.5, color: tokens.slate },
  row: { display: "grid", gridTemplateColumns: "84px minmax(0, 1fr)", columnGap: 1.2, py: 0.5 },
} as const;

const TIMES: [number, string][] = [
  [30, "the last 30 days"],
  [90, "the last 90 days"],
  [365, "the last year"],
];

/** The whole school as its chief looks at it: where height goes that nobody briefed, and who needs a second look. */
export default function SchoolPage() {
  useTitle("The school");
  const [days, setDays] = useState(365);
  const found = api.useQuery("get", "/api/school", { params: { query: { days } } });
  if (found.isPending) return <Loading what="the school" />;
  if (found.isError) return <Trouble error={found.error} again={() => void found.refetch()} />;
  const seen = found.data;
  return (
    <Box component="main" sx={styles.page}>
      <Box sx={styles.head}>
        <SchoolHead title="The school">
          <Typography sx={styles.line}>
            {seen.flights} debriefed flights, {seen.attempts} attempts
          </Typography>
          <TextField
            select
            size="small"
            label="Of"
            value={days}
            onChange={(e) => setDays(Number(e.target.value))}
            sx={{ width: 180 }}
          >
            {TIMES.map(([value, words]) => (
              <MenuItem key={value} value={value}>
                {words}
              </MenuItem>
            ))}
          </TextField>
        </SchoolHead>
      </Box>
      {seen.flights === 0 ? (
        <Empty>Nothing was debriefed in this time.</Empty>
      ) : (
        <>
          <FigureCosts costs={seen.costs} />
          <Box sx={styles.side}>
            <SpinsBesideTheirCards />
            <BeyondLimits beyond={seen.beyond} />
            <StuckTasks stuck={seen.stuck} />
            <Grading graders={seen.graders} />
            <Aircraft aircraft={seen.aircraft} />
          </Box>
        </>
      )}
    </Box>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Paper component="section" aria-label={title} sx={{ border: `1px solid ${tokens.hairline}`, p: 1.5 }}>
      <Typography variant="h2">{title}</Typography>
      {children}
    </Paper>
  );
}

function BeyondLimits({ beyond }: Pick<SchoolSeen, "beyond">) {
  return (
    <Part title="Taken over, broken off, beyond a limit">
      {beyond.length === 0 && <Typography sx={styles.small}>None in this time.</Typography>}
      {beyond.map((one, i) => (
        <Box key={i} sx={styles.row}>
          <Link to={`/sorties/${one.flight}`} style={{ color: tokens.plan, fontSize: 14, minHeight: 44 }}>
            {day(one.day)}
          </Link>
          <Box>
            <Box sx={{ display: "flex", gap: 0.8, fontSize: 14.5 }}>
              <VerdictMark verdict={one.what === "broken off" ? "mind" : "stop"} size={15} />
              {one.words}
            </Box>
            <Box sx={styles.small}>
              {one.what}; {one.student} with {one.instructor}
            </Box>
          </Box>
        </Box>
      ))}
    </Part>
  );
}

function StuckTasks({ stuck }: Pick<SchoolSeen, "stuck">) {
  return (
    <Part title="Where students get stuck">
      {stuck.length === 0 && <Typography sx={styles.small}>Nowhere: no task takes long.</Typography>}
      {stuck.slice(0, 8).map((one) => (
        <Box key={one.course + one.task} sx={{ py: 0.4 }}>
          <Typography sx={{ fontSize: 14.5 }}>
            <b>{one.title}</b>: {one.words}
          </Typography>
          <Box sx={styles.small}>{one.students.join(", ")}</Box>
        </Box>
      ))}
      {stuck.length > 8 && <Box sx={styles.small}>and {stuck.length - 8} tasks more</Box>}
    </Part>
  );
}

/** A bar from "below" to "above" for each instructor: how the grades stand to those that the same notes come to. */
function Grading({ graders }: Pick<SchoolSeen, "graders">) {
  return (
    <Part title="Grades beside the school's standard">
      {graders.map((one) => (
        <Box key={one.instructor} sx={{ py: 0.4 }}>
          <Box sx={{ display: "flex", justifyContent: "space-between", fontSize: 14.5 }}>
            <b>{one.instructor}</b>
            <Box component="span" sx={narrow}>
              {one.below} below, {one.same} the same, {one.above} above
            </Box>
          </Box>
          <Box aria-hidden sx={{ display: "flex", height: 10, my: 0.3 }}>
            <Box sx={{ flexGrow: one.below, bgcolor: tokens.mindInk }} />
            <Box sx={{ flexGrow: one.same, bgcolor: tokens.planPale }} />
            <Box sx={{ flexGrow: one.above, bgcolor: tokens.flown }} />
          </Box>
          <Box sx={styles.small}>{one.words}</Box>
        </Box>
      ))}
    </Part>
  );
}

function Aircraft({ aircraft }: Pick<SchoolSeen, "aircraft">) {
  return (
    <Part title="Aircraft">
      {aircraft.map((one) => (
        <Box key={one.aircraft} sx={{ display: "flex", justifyContent: "space-between", fontSize: 14.5 }}>
          <b>{one.aircraft}</b>
          <span>
            {hours(one.minutes)}, {one.flights} flights
            {one.without > 0 && ` (${one.without} without minutes)`}, {one.attempts} figures,{" "}
            {one.lost_ft.toLocaleString("en")} ft of height
          </span>
        </Box>
      ))}
    </Part>
  );
}
