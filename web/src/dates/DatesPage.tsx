import {
  Box,
  Button,
  MenuItem,
  Paper,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { Link, useOutletContext } from "react-router";
import { api } from "../api/client";
import type { DateKept, Dates, Person, Verdict } from "../api/types";
import { fullDay } from "../frame/dates";
import { Empty, Loading, Trouble } from "../frame/states";
import { useTitle } from "../frame/useTitle";
import { Requirements } from "../requirements/Requirements";
import { narrow, tokens } from "../theme";
import { VerdictMark } from "../verdict/VerdictMark";
import { DayHead } from "../week/DayHead";
import { DateDialog } from "./DateDialog";

const styles = {
  page: {
    height: "100%",
    display: "grid",
    gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(0, 1.25fr) minmax(0, 1fr)" },
    gridTemplateRows: { md: "auto minmax(0, 1fr)" },
    overflow: { xs: "auto", md: "hidden" },
    columnGap: 2.5,
    rowGap: 2,
    p: 2,
  },
  head: { gridColumn: "1 / -1", display: "flex", flexWrap: "wrap", alignItems: "center", columnGap: 2 },
  sheet: { border: `1px solid ${tokens.hairline}`, overflow: "auto", alignSelf: "start", maxHeight: "100%" },
  table: { ...narrow, "& td, & th": { px: 1.2 } },
  from: { color: tokens.slate, fontSize: 13 },
  side: {
    minHeight: 0,
    display: "grid",
    gridTemplateRows: "auto minmax(0, 1fr)",
    gap: 1.2,
  },
} as const;

/** Until when people and aircraft may fly, the next to end first; and how instructors stand to what is required. */
export default function DatesPage() {
  useTitle("Dates and requirements");
  const person = useOutletContext<Person>();
  const found = api.useQuery("get", "/api/dates");
  const [open, setOpen] = useState<DateKept | "new" | null>(null);
  if (found.isPending) return <Loading what="the dates" />;
  if (found.isError) return <Trouble error={found.error} again={() => void found.refetch()} />;
  const { dates, may_change } = found.data;
  return (
    <Box component="main" sx={styles.page}>
      <Box sx={styles.head}>
        <DayHead />
        <Typography variant="h1" sx={{ flex: 1 }}>
          Dates of people and aircraft
        </Typography>
        {may_change && (
          <Button variant="contained" onClick={() => setOpen("new")}>
            Add a date
          </Button>
        )}
      </Box>
      <Paper sx={styles.sheet}>
        {dates.length === 0 ? (
          <Empty>No date is kept yet: medicals, inspections, harnesses, repacks.</Empty>
        ) : (
          <Table size="small" sx={styles.table} stickyHeader>
            <TableHead>
              <TableRow>
                <TableCell>Whose</TableCell>
                <TableCell>What</TableCell>
                <TableCell>Valid until</TableCell>
                <TableCell>Then</TableCell>
                <TableCell align="right">Do</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {dates.map((d) => (
                <Row
                  key={`${d.date.of} ${d.date.what}`}
                  kept={d}
                  may={may_change}
                  onOpen={() => setOpen(d)}
                />
              ))}
            </TableBody>
          </Table>
        )}
      </Paper>
      <Instructors dates={found.data} me={person} />
      {open !== null && (
        <DateDialog
          dates={found.data}
          kept={open === "new" ? undefined : open}
          onClose={() => setOpen(null)}
        />
      )}
    </Box>
  );
}

function verdictOf({ date, days_left }: DateKept): Verdict {
  if (days_left < 0) return date.stops ? "stop" : "mind";
  return days_left <= date.warn_days ? "mind" : "fine";
}

function Row({ kept, may, onOpen }: { kept: DateKept; may: boolean; onOpen: () => void }) {
  const { date, days_left } = kept;
  return (
    <TableRow sx={may ? { height: 45 } : {}}>
      <TableCell sx={{ fontWeight: 700 }}>{date.of}</TableCell>
      <TableCell>{date.what}</TableCell>
      <TableCell>
        <Box sx={{ display: "flex", gap: 0.8, alignItems: "center", whiteSpace: "nowrap" }}>
          <VerdictMark verdict={verdictOf(kept)} size={15} />
          <span>
            <b>{fullDay(date.until)}</b>, {days(days_left)}
          </span>
        </Box>
      </TableCell>
      <TableCell>{date.stops ? "No flight" : "It is said"}</TableCell>
      <TableCell align="right">
        {may && kept.id !== null ? (
          <Button size="small" onClick={onOpen} aria-label={`Change ${date.what} of ${date.of}`}>
            Change
          </Button>
        ) : (
          kept.id === null && <WhereFrom kept={kept} />
        )}
      </TableCell>
    </TableRow>
  );
}

/** What follows from something else is changed there. */
function WhereFrom({ kept }: { kept: DateKept }) {
  if (kept.aircraft_id === null)
    return (
      <Box component="span" sx={styles.from}>
        From flights
      </Box>
    );
  return (
    <Box component={Link} to="/fleet" sx={{ ...styles.from, color: tokens.plan }}>
      From the fleet
    </Box>
  );
}

function days(left: number): string {
  const n = Math.abs(left);
  const words = n === 1 ? "1 day" : `${n} days`;
  if (left === 0) return "today";
  return left < 0 ? `${words} ago` : `${words} left`;
}

/** How one instructor stands to what is required; the chief looks at all of them. */
function Instructors({ dates, me }: { dates: Dates; me: Person }) {
  const [who, setWho] = useState(me.id);
  const teaching = dates.people.filter((p) => p.more !== "student");
  return (
    <Box sx={styles.side} component="section" aria-label="Required of instructors">
      {me.role === "chief" ? (
        <TextField
          select
          size="small"
          label="Required of"
          value={who}
          onChange={(e) => setWho(Number(e.target.value))}
        >
          {teaching.map((p) => (
            <MenuItem key={p.id} value={p.id}>
              {p.name}
            </MenuItem>
          ))}
        </TextField>
      ) : (
        <Typography variant="h2">Required of you</Typography>
      )}
      <Requirements person={who} key={who} />
    </Box>
  );
}
