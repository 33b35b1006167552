import { useEffect, useRef, useState } from "react";
import { Recording, recorderAddress, SILENT_MS, type Hello, type Mark } from "../../device/recorder";

/** none: the school has no recorder. waiting: it was not heard yet. other: it is set to another QNH or unit than the
 * plan, and nothing of it is taken. */
export type RecorderState = "none" | "waiting" | "live" | "silent" | "other";

export interface Recorder {
  state: RecorderState;
  hello: Hello | null;
  recording: Recording | null;
}

interface Plan {
  qnh_hpa: number;
  speed_unit: string;
}

const LOOK_MS = 500;

/** Listens for as long as it is flown. */
export function useRecorder(flying: boolean, plan: Plan, onMark: (mark: Mark) => void): Recorder {
  const address = recorderAddress();
  const [hello, setHello] = useState<Hello | null>(null);
  const [recording, setRecording] = useState<Recording | null>(null);
  const [heard, setHeard] = useState(false);
  const other = hello !== null && !sameSetting(hello, plan);
  const take = useRef(onMark);
  useEffect(() => {
    take.current = (mark) => {
      if (!other) onMark(mark);
    };
  });
  useEffect(() => {
    if (!flying || !address || typeof EventSource === "undefined") return;
    const made = new Recording(address, { onHello: setHello, onMark: (mark) => take.current(mark) });
    setRecording(made);
    const look = setInterval(() => setHeard(Date.now() - made.heardAt < SILENT_MS), LOOK_MS);
    return () => {
      clearInterval(look);
      made.close();
      setRecording(null);
    };
  }, [flying, address]);
  const state = !recording
    ? "none"
    : hello === null
      ? "waiting"
      : !heard
        ? "silent"
        : other
          ? "other"
          : "live";
  return { state, hello, recording };
}

function sameSetting(hello: Hello, plan: Plan): boolean {
  return Math.abs(hello.qnh_hpa - plan.qnh_hpa) < 1 && hello.speed_unit === plan.speed_unit;
}
