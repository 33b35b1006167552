import { Box } from "@mui/material";
import { useEffect, useRef } from "react";
import { narrow, tokens } from "../../theme";
import type { Recorder, RecorderState } from "./useRecorder";

const styles = {
  whole: { position: "relative", height: { xs: 40, sm: 60 }, borderBottom: `1px solid ${tokens.hairline}` },
  drawn: {
    width: "100%",
    height: "100%",
    display: "block",
    "& path": { fill: "none", stroke: tokens.flown, strokeWidth: "calc(2.5px * var(--kt-heavy))" },
    "& line": { stroke: tokens.stop, strokeWidth: 2, strokeDasharray: "6 4" },
  },
  said: {
    ...narrow,
    position: "absolute",
    left: 0,
    top: 2,
    fontSize: 14,
    fontWeight: 660,
    lineHeight: 1.2,
    bgcolor: tokens.sheet,
    pr: 0.5,
  },
} as const;

const DRAW_MS = 250,
  SHOWN_S = 90,
  LEAST_SPAN_FT = 400;
const W = 1000,
  H = 100;

const SAID: Record<Exclude<RecorderState, "none" | "other QNH">, string> = {
  waiting: "Recorder: not heard yet. By hand.",
  live: "Recorder ",
  silent: "Recorder silent. By hand.",
  "other unit": "Recorder has another speed unit. By hand.",
};

interface Props {
  recorder: Recorder;
  /** Null where the plan gives none. */ qnh: number | null;
  floor: number;
}

/** The last minute and a half as the recorder hears it, over the floor. Drawn past React: sixteen times a second nothing
 * else of the page moves. */
export function LiveStrip({ recorder, qnh, floor }: Props) {
  const { recording, state, hello } = recorder;
  const path = useRef<SVGPathElement>(null),
    line = useRef<SVGLineElement>(null),
    now = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    if (!recording) return;
    const draw = () => {
      const { heights } = recording;
      const last = heights.at(-1);
      if (!last || !path.current || !line.current) return;
      const feet = heights.map(([, ft]) => ft);
      const low = Math.min(...feet, floor) - 50,
        span = Math.max(LEAST_SPAN_FT, Math.max(...feet) - low + 50);
      const x = (at: number) => W * (1 - (last[0] - at) / SHOWN_S),
        y = (ft: number) => H * (1 - (ft - low) / span);
      path.current.setAttribute(
        "d",
        heights.map(([at, ft], i) => `${i ? "L" : "M"}${x(at).toFixed(1)} ${y(ft).toFixed(1)}`).join(""),
      );
      for (const end of ["y1", "y2"]) line.current.setAttribute(end, y(floor).toFixed(1));
      if (now.current) now.current.textContent = (Math.round(last[1] / 10) * 10).toLocaleString("en");
    };
    const timer = setInterval(draw, DRAW_MS);
    return () => clearInterval(timer);
  }, [recording, floor]);
  if (state === "none") return null;
  return (
    <Box sx={styles.whole}>
      <Box component="svg" viewBox={`0 0 ${W} ${H}`} preserveAspectRatio="none" aria-hidden sx={styles.drawn}>
        <line ref={line} x1={0} x2={W} y1={H} y2={H} vectorEffect="non-scaling-stroke" />
        <path ref={path} vectorEffect="non-scaling-stroke" />
      </Box>
      <Box
        role="status"
        aria-label="Recorder"
        sx={{ ...styles.said, color: state === "live" ? tokens.flown : tokens.mindInk }}
      >
        {state === "other QNH"
          ? `Recorder is on QNH ${hello?.qnh_hpa}, ${qnh === null ? "the plan has none" : `the plan on ${qnh}`}. By hand.`
          : SAID[state]}
        {/* Changed by the drawing alone: nobody is read sixteen heights a second. */}
        {state === "live" && <span ref={now} aria-hidden />}
      </Box>
    </Box>
  );
}
