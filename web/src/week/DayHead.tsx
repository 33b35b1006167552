import { Box } from "@mui/material";
import { NavLink, useOutletContext } from "react-router";
import type { Person } from "../api/types";
import { tokens } from "../theme";

const styles = {
  nav: { display: "flex", gap: 2 },
  link: {
    display: "flex",
    alignItems: "center",
    minHeight: 44,
    color: tokens.slate,
    fontWeight: 620,
    textDecoration: "none",
    borderBottom: "3px solid transparent",
    "&.active": { color: tokens.plan, borderColor: tokens.plan },
  },
} as const;

/** The way between today, its week, and until when people and aircraft may fly. */
export function DayHead() {
  const person = useOutletContext<Person>();
  return (
    <Box component="nav" aria-label="Days" sx={styles.nav}>
      <Box component={NavLink} to="/" end sx={styles.link}>
        Today
      </Box>
      <Box component={NavLink} to="/week" sx={styles.link}>
        The week
      </Box>
      {person.role !== "student" && (
        <Box component={NavLink} to="/dates" sx={styles.link}>
          Dates
        </Box>
      )}
    </Box>
  );
}
