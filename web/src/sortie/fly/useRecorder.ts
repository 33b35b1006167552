import { useEffect, useRef, useState } from "react";
import { Recording, recorderAddress, SILENT_MS, type Hello, type Mark } from "../../device/recorder";

/** none: the school has no recorder. waiting: it was not heard yet. other QNH, other unit: it is set to another than the
 * plan, and nothing of it is taken. */
export type RecorderState = "none" | "waiting" | "live" | "silent" | "other QNH" | "other unit";

export interface Recorder {
  state: RecorderState;
  hello: Hello | null;
  recording: Recording | null;
}

interface Plan {
  /** Null where the plan gives none. */ qnh_hpa: number | null;
  speed_unit: string;
}

const LOOK_MS = 500;
/** Boxes are set to whole hectopascals; further off is another setting. */
const SAME_HPA = 0.5;

/** Listens for as long as it is flown. */
export function useRecorder(flying: boolean, plan: Plan, onMark: (mark: Mark) => void): Recorder {
  const address = recorderAddress();
  const [hello, setHello] = useState<Hello | null>(null);
  const [recording, setRecording] = useState<Recording | null>(null);
  const [heard, setHeard] = useState(false);
  const other = hello && otherSetting(hello, plan);
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
  const state = !recording ? "none" : hello === null ? "waiting" : !heard ? "silent" : (other ?? "live");
  return { state, hello, recording };
}

export function otherSetting(
  hello: Pick<Hello, "qnh_hpa" | "speed_unit">,
  plan: Plan,
): "other QNH" | "other unit" | null {
  if (plan.qnh_hpa === null || Math.abs(hello.qnh_hpa - plan.qnh_hpa) > SAME_HPA) return "other QNH";
  return hello.speed_unit === plan.speed_unit ? null : "other unit";
}
