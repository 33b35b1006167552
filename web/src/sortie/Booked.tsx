import { Alert, Button } from "@mui/material";
import { useState } from "react";
import type { Person } from "../api/types";
import { BookingDialog } from "./BookingDialog";
import type { SortieWork } from "./useSortie";

/** What stands above a sortie that is cancelled, or somebody else's to change: why, and the way on. */
export function Booked({ work, person }: { work: SortieWork; person: Person }) {
  const { cancelled, may, instructor } = work.sortie;
  const [open, setOpen] = useState(false);
  const others = may.book && !may.save && cancelled === null;
  if (cancelled === null && !others) return null;
  return (
    <>
      <Alert
        severity={cancelled === null ? "info" : "error"}
        sx={{ borderRadius: 0, py: 0 }}
        action={
          may.book && (
            <Button size="small" color="inherit" onClick={() => setOpen(true)} sx={{ whiteSpace: "nowrap" }}>
              {cancelled === null ? "Take it over" : "Booking"}
            </Button>
          )
        }
      >
        {cancelled === null
          ? `${instructor} instructs this one: you can read it, and take it over.`
          : `Cancelled: ${cancelled}`}
      </Alert>
      {open && <BookingDialog work={work} person={person} onClose={() => setOpen(false)} />}
    </>
  );
}
