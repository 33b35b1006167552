import { useEffect, useState } from "react";
import { clockOffset } from "../../device/clock";

const EVERY_MS = 5000;

/** The time by the server's clock, in ms: anew every few seconds. */
export function useMinute(): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), EVERY_MS);
    return () => clearInterval(timer);
  }, []);
  return now + clockOffset() * 1000;
}
