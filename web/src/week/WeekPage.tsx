import { Box, Button, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { keepPreviousData } from "@tanstack/react-query";
import { DateTime } from "luxon";
import { useState } from "react";
import { useOutletContext } from "react-router";
import { api } from "../api/client";
import type { Person, Week } from "../api/types";
import { useCommands } from "../frame/commands";
import { Key } from "../frame/Key";
import { Loading, Trouble } from "../frame/states";
import { useTitle } from "../frame/useTitle";
import { StartSortie } from "../today/starting";
import { AwayDialog } from "./AwayDialog";
import { Board } from "./Board";
import { DayHead } from "./DayHead";
import { begins, dayOf, DAYS, type By, type Spot } from "./spot";
import { useMoving } from "./useMoving";
import { WeekList } from "./WeekList";
import { WhatItMeans } from "./WhatItMeans";

// Narrower, a booking has no room for a name: the list stands in the place of the picture.
const SMALL = "@media (max-width: 759px)";
const styles = {
  pictured: { [SMALL]: { display: "none" } },
  listed: { display: "none", overflow: "auto", [SMALL]: { display: "block" } },
  page: {
    height: "100%",
    display: "grid",
    gridTemplateRows: "auto minmax(0, 1fr) auto",
    gap: 1,
    px: { xs: 1, md: 2.5 },
    pt: 0.5,
    pb: 1,
  },
  head: { display: "flex", alignItems: "center", columnGap: 2, flexWrap: "wrap" },
  step: { minWidth: 44, minHeight: 44, fontSize: 18 },
} as const;

/** Bookings of one week: moved, made longer, begun. */
export default function WeekPage() {
  useTitle("The week");
  const [day, setDay] = useState<string | undefined>(undefined);
  const found = api.useQuery(
    "get",
    "/api/week",
    { params: { query: day === undefined ? {} : { day } } },
    { placeholderData: keepPreviousData },
  );
  if (found.isPending) return <Loading what="the week" />;
  if (found.isError) return <Trouble error={found.error} again={() => void found.refetch()} />;
  return <Seen week={found.data} onDay={setDay} />;
}

function Seen({ week, onDay }: { week: Week; onDay: (day: string | undefined) => void }) {
  const person = useOutletContext<Person>();
  const teaches = person.role !== "student";
  const [by, setBy] = useState<By>("aircraft");
  const [free, setFree] = useState<Spot | null>(null);
  const [planning, setPlanning] = useState<Spot | "anywhere" | null>(null);
  const [away, setAway] = useState(false);
  const moving = useMoving(week);
  const go = (weeks: number) => {
    setFree(null);
    moving.choose(null);
    onDay(dayOf(week, DAYS * weeks).toISODate() ?? undefined);
  };
  useCommands({
    newSortie: () => teaches && setPlanning("anywhere"),
    weekBack: () => go(-1),
    weekOn: () => go(1),
  });
  const [first, last] = [dayOf(week, 0), dayOf(week, DAYS - 1)];
  const months = first.hasSame(last, "month") ? first.toFormat("d") : first.toFormat("d LLL");
  const thisWeek = DateTime.fromISO(week.now).startOf("week").hasSame(first, "day");
  return (
    <Box component="main" sx={styles.page}>
      <Box sx={styles.head}>
        <DayHead />
        <Box sx={{ display: "flex", alignItems: "center" }}>
          <Button sx={styles.step} onClick={() => go(-1)} aria-label="The week before">
            ‹<Key of="weekBack" />
          </Button>
          <Typography variant="h1" sx={{ whiteSpace: "nowrap" }}>
            {months} to {last.toFormat("d LLL yyyy")}
          </Typography>
          <Button sx={styles.step} onClick={() => go(1)} aria-label="The week after">
            ›<Key of="weekOn" />
          </Button>
          {!thisWeek && <Button onClick={() => onDay(undefined)}>This week</Button>}
        </Box>
        <ToggleButtonGroup
          size="small"
          exclusive
          value={by}
          onChange={(_, value: By | null) => {
            if (value) setBy(value);
            setFree(null);
          }}
          aria-label="Lanes"
          sx={styles.pictured}
        >
          <ToggleButton value="aircraft">By aircraft</ToggleButton>
          <ToggleButton value="instructor">By instructor</ToggleButton>
        </ToggleButtonGroup>
        <Box sx={{ flex: 1 }} />
        <Button onClick={() => setAway(true)}>Not to be had</Button>
        {teaches && (
          <Button variant="contained" onClick={() => setPlanning("anywhere")}>
            Plan a sortie
            <Key of="newSortie" pale />
          </Button>
        )}
      </Box>
      <Box sx={{ ...styles.pictured, display: "grid", minHeight: 0 }}>
        <Board week={week} by={by} moving={moving} free={free} onFree={setFree} plans={teaches} />
      </Box>
      <Box sx={styles.listed}>
        <WeekList week={week} />
      </Box>
      <Box sx={styles.pictured}>
        <WhatItMeans week={week} moving={moving} free={free} onPlan={setPlanning} />
      </Box>
      {planning !== null && (
        <StartSortie
          studentId={0}
          at={planning === "anywhere" ? undefined : (begins(week, planning).toUTC().toISO() ?? undefined)}
          aircraftId={planning === "anywhere" ? undefined : planning.aircraft}
          instructorId={planning === "anywhere" ? undefined : planning.instructor}
          onClose={() => setPlanning(null)}
        />
      )}
      {away && <AwayDialog week={week} person={person} onClose={() => setAway(false)} />}
    </Box>
  );
}
