import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from "@mui/material";
import { useState } from "react";
import { useNavigate } from "react-router";
import type { Person } from "../api/types";
import { dataOf } from "../device/database";
import { useLogOut } from "./useSession";

/** Logging out takes what is kept for this person off the device; what only this device has is asked about first. */
export function LogOut({ person }: { person: Person }) {
  const navigate = useNavigate();
  const logOut = useLogOut(person);
  const [waiting, setWaiting] = useState(0);
  const out = () => {
    setWaiting(0);
    logOut.mutate(undefined, { onSettled: () => void navigate("/") });
  };
  const ask = async () => {
    const left = await dataOf(person.id)
      .entries.where("state")
      .notEqual("sent")
      .count()
      .catch(() => 0);
    if (left > 0) setWaiting(left);
    else out();
  };
  return (
    <>
      <Button size="small" onClick={() => void ask()} sx={{ whiteSpace: "nowrap" }}>
        Log out
      </Button>
      <Dialog open={waiting > 0} onClose={() => setWaiting(0)} aria-labelledby="log-out-title">
        <DialogTitle id="log-out-title">
          {waiting} {waiting === 1 ? "entry has" : "entries have"} not reached the server
        </DialogTitle>
        <DialogContent>
          They stay on this device, unseen by anybody else, and are sent when you log in here again.
        </DialogContent>
        <DialogActions>
          <Button onClick={out}>Log out</Button>
          <Button autoFocus variant="contained" onClick={() => setWaiting(0)}>
            Stay
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
