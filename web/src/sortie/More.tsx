import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Menu, MenuItem } from "@mui/material";
import { useRef, useState } from "react";
import { answered, Failed, server } from "../api/client";
import type { Person, PlanDocument } from "../api/types";
import { readJson } from "../frame/files";
import { Trouble } from "../frame/states";
import { BookingDialog } from "./BookingDialog";
import { editPlan } from "./edits";
import type { Sortie } from "../api/types";
import type { SortieWork } from "./useSortie";

/** What is wanted seldom: the booking; the card, the plan and the booking as files; and a plan from a file, into the
 * draft, so that it can be undone. */
export function More({ work, person }: { work: SortieWork; person: Person }) {
  const [booking, setBooking] = useState(false);
  const [at, setAt] = useState<HTMLElement | null>(null);
  const [failed, setFailed] = useState<unknown>(null);
  const input = useRef<HTMLInputElement>(null);
  const { id } = work.sortie;
  const take = async (file: File) => {
    try {
      const document = await readJson(file);
      const plan = (await answered(
        server.POST("/api/sorties/{sortie_id}/plan-from-file", {
          params: { path: { sortie_id: id } },
          body: { document },
        }),
      )) as PlanDocument;
      work.change(editPlan(() => plan));
    } catch (error) {
      setFailed(error instanceof Failed ? error : String(error));
    }
  };
  const links: [string, string][] = [
    ["Card as PDF, A5", "card.pdf?paper=a5"],
    ["Card as PDF, half letter", "card.pdf?paper=half-letter"],
    ["Student's sheet as PDF", "sheet.pdf"],
    ["Plan as JSON", "plan.json"],
    ["Whole sortie as JSON", "sortie.json"],
    ["Attempts as CSV", "attempts.csv"],
    ["Booking for a calendar", "booking.ics"],
  ];
  return (
    <>
      <Button size="small" onClick={(e) => setAt(e.currentTarget)} aria-haspopup="menu" sx={{ minWidth: 0 }}>
        More
      </Button>
      <Menu open={at !== null} anchorEl={at} onClose={() => setAt(null)}>
        <MenuItem
          divider
          onClick={() => {
            setAt(null);
            setBooking(true);
          }}
        >
          {whatBooking(work.sortie.may)}
        </MenuItem>
        {links.map(([words, path]) => (
          <MenuItem key={path} component="a" href={`/api/sorties/${id}/${path}`} onClick={() => setAt(null)}>
            {words}
          </MenuItem>
        ))}
        {work.sortie.may.plan && (
          <MenuItem
            onClick={() => {
              setAt(null);
              input.current?.click();
            }}
          >
            Plan from a file…
          </MenuItem>
        )}
      </Menu>
      <input
        ref={input}
        type="file"
        accept="application/json,.json"
        hidden
        aria-label="Plan from a file"
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = "";
          if (file) void take(file);
        }}
      />
      {booking && <BookingDialog work={work} person={person} onClose={() => setBooking(false)} />}
      {failed !== null && (
        <Dialog open onClose={() => setFailed(null)} fullWidth maxWidth="sm">
          <DialogTitle>This file was not taken</DialogTitle>
          <DialogContent>
            Your plan is as it was.
            <Trouble error={failed} />
          </DialogContent>
          <DialogActions>
            <Button onClick={() => setFailed(null)}>Back to the plan</Button>
          </DialogActions>
        </Dialog>
      )}
    </>
  );
}

function whatBooking({ book, hand_over }: Sortie["may"]): string {
  if (book) return "Move, hand over or cancel…";
  return hand_over ? "Hand over to another instructor…" : "What became of it…";
}
