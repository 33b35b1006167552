import { Box, Typography } from "@mui/material";
import type { ReactNode } from "react";
import { NavLink } from "react-router";
import { tokens } from "../theme";

const styles = {
  head: {
    display: "flex",
    flexWrap: "wrap",
    alignItems: "center",
    columnGap: 2.5,
    rowGap: 0.5,
    mb: 1.5,
  },
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

const PARTS = [
  ["/school", "Heights and grades"],
  ["/people", "People"],
  ["/records", "Records"],
] as const;

/** The head of what the chief keeps, with the way from one part to the next. */
export function SchoolHead({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <Box sx={styles.head}>
      <Typography variant="h1">{title}</Typography>
      <Box component="nav" aria-label="The school" sx={{ display: "flex", gap: 2, flex: 1 }}>
        {PARTS.map(([to, words]) => (
          <Box key={to} component={NavLink} to={to} sx={styles.link}>
            {words}
          </Box>
        ))}
      </Box>
      {children}
    </Box>
  );
}
