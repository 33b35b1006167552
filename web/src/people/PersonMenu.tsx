import { Button, Menu, MenuItem } from "@mui/material";
import { useState } from "react";
import { api } from "../api/client";
import type { PersonLine } from "../api/types";
import { Trouble } from "../frame/states";
import { usePeopleAgain } from "./usePeopleAgain";

export type PersonAct = "change" | "link" | "leave" | "erase";

/** What the chief can do about somebody. */
export function PersonMenu({ person, onAct }: { person: PersonLine; onAct: (act: PersonAct) => void }) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const back = api.useMutation("post", "/api/people/{person_id}/back", usePeopleAgain());
  const off = api.useMutation("post", "/api/people/{person_id}/second-factor/off", usePeopleAgain());
  const path = { params: { path: { person_id: person.id } } };
  const act = (does: () => void) => () => {
    setAt(null);
    does();
  };
  const failed = back.error ?? off.error;
  return (
    <>
      <Button
        size="small"
        aria-haspopup="menu"
        aria-label={`More about ${person.name}`}
        onClick={(e) => setAt(e.currentTarget)}
      >
        More
      </Button>
      {failed && <Trouble error={failed} />}
      <Menu anchorEl={at} open={at !== null} onClose={() => setAt(null)}>
        <MenuItem onClick={act(() => onAct("change"))}>Change…</MenuItem>
        {person.state !== "left" && (
          <MenuItem onClick={act(() => onAct("link"))}>
            {person.state === "in" ? "A link for a new password…" : "Another link in…"}
          </MenuItem>
        )}
        {person.second_factor && (
          <MenuItem onClick={act(() => off.mutate(path))}>Take the second factor off</MenuItem>
        )}
        {person.state === "left" ? (
          <MenuItem onClick={act(() => back.mutate(path))}>Take back into the school</MenuItem>
        ) : (
          <MenuItem onClick={act(() => onAct("leave"))}>Leaves the school…</MenuItem>
        )}
        {person.student_id !== null && (
          <MenuItem
            component="a"
            href={`/api/students/${person.student_id}/export.zip`}
            onClick={() => setAt(null)}
          >
            Export everything of theirs
          </MenuItem>
        )}
        <MenuItem onClick={act(() => onAct("erase"))}>Erase at their request…</MenuItem>
      </Menu>
    </>
  );
}
