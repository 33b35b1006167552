import { Alert, Button } from "@mui/material";
import { time } from "../frame/dates";
import { serverTime } from "./clock";
import { useOfflineSince } from "./online";
import { useNewVersion } from "./version";

/** What is to be said of this device: that the server does not answer, that a newer version waits. flying: neither is
 * said in the middle of a flight. */
export function DeviceBar({ flying }: { flying: boolean }) {
  const away = useOfflineSince();
  const renew = useNewVersion();
  if (flying) return null;
  return (
    <>
      {away !== null && (
        <Alert severity="warning" sx={{ borderRadius: 0, py: 0 }}>
          No network since {time(serverTime(away))}: what is on this device can be briefed and flown; what is
          noted is kept here.
        </Alert>
      )}
      {renew && (
        <Alert
          severity="info"
          sx={{ borderRadius: 0, py: 0 }}
          action={
            <Button color="inherit" onClick={renew}>
              Load it now
            </Button>
          }
        >
          A newer version of Keel Turn is here.
        </Alert>
      )}
    </>
  );
}
