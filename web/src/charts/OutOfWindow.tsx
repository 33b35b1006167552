import { Box } from "@mui/material";
import { useContext, useId, useLayoutEffect, useRef } from "react";
import { SceneryContext, type Eye } from "../outside/scenery";
import { closeWindow, useWindow } from "../outside/useWindow";
import type { Look } from "../outside/window";
import { narrow, tokens } from "../theme";

const styles = {
  pane: { position: "relative", borderRadius: "5px", overflow: "hidden" },
  outside: {
    position: "absolute",
    inset: 0,
    width: "100%",
    height: "100%",
    // At dusk the day outside does not dazzle.
    filter: `brightness(${tokens.outside})`,
  },
  words: { ...narrow, fontSize: 13, lineHeight: 1.25, mt: 0.3 },
} as const;

interface Props {
  eye: Eye;
  words?: string;
  size?: number;
}

const W = 200,
  H = 132,
  PER_DEG = 2.1;

/** What the pilot sees ahead, over the nose of the aircraft: the place on its day, or where the browser draws nothing in
 * three dimensions its horizon and fields running away. */
export function OutOfWindow({ eye, words, size = W }: Props) {
  const look = useWindow();
  return (
    <Box component="figure" sx={{ m: 0, width: size, maxWidth: "100%" }}>
      <Box sx={styles.pane}>
        {look && <Outside eye={eye} look={look} size={size} />}
        <svg
          viewBox={`0 0 ${W} ${H}`}
          width="100%"
          style={{ display: "block", position: "relative" }}
          role="img"
          aria-label={`Out of the window${words ? `, ${words}` : ""}: nose ${said(eye.pitch, "up", "down")}, bank ${said(eye.bank, "right", "left")}, ${Math.round(eye.height / 10) * 10} ft`}
        >
          {!look && <Simply eye={eye} />}
          <path
            d={`M${W / 2 - 66} ${H}Q${W / 2 - 52} ${H - 30} ${W / 2} ${H - 34}Q${W / 2 + 52} ${H - 30} ${W / 2 + 66} ${H}Z`}
            fill={tokens.cowl}
          />
          <path d={AIM} stroke={tokens.sheet} strokeWidth="4.4" opacity="0.7" />
          <path d={AIM} stroke={tokens.stop} strokeWidth="2.4" />
        </svg>
      </Box>
      {words && (
        <Box component="figcaption" sx={styles.words}>
          {words}
        </Box>
      )}
    </Box>
  );
}

/** Where the nose points. */
const AIM = `M${W / 2 - 12} ${H / 2}h8M${W / 2 + 4} ${H / 2}h8M${W / 2} ${H / 2 - 3}v6`;

/** The world, in the middle of the picture as the aim is. */
function Outside({ eye, look, size }: { eye: Eye; look: Look; size: number }) {
  const scenery = useContext(SceneryContext);
  const canvas = useRef<HTMLCanvasElement>(null);
  const dots = Math.min(2, window.devicePixelRatio || 1) * size;
  useLayoutEffect(() => {
    if (canvas.current && !look(eye, scenery, canvas.current)) closeWindow();
  });
  return (
    <Box
      component="canvas"
      ref={canvas}
      width={Math.round(dots)}
      height={Math.round((dots * H) / W)}
      aria-hidden
      sx={styles.outside}
    />
  );
}

function Simply({ eye: { pitch, bank, heading } }: { eye: Eye }) {
  const id = useId();
  const drop = Math.max(-95, Math.min(95, pitch)) * PER_DEG;
  // Lines on the ground run to the horizon on headings: they turn as the aircraft turns.
  const fields = [...Array(24).keys()]
    .map((i) => ((((i * 15 - heading) % 360) + 540) % 360) - 180)
    .filter((off) => Math.abs(off) < 75);
  const rows = [3, 6, 11, 19, 33, 58];
  return (
    <>
      <defs>
        <clipPath id={id}>
          <rect width={W} height={H} rx="5" />
        </clipPath>
      </defs>
      <g clipPath={`url(#${id})`}>
        <rect width={W} height={H} fill={tokens.air} />
        <g transform={`translate(${W / 2} ${H / 2}) rotate(${-bank}) translate(0 ${drop})`}>
          <rect x={-600} y={0} width={1200} height={900} fill={tokens.land} />
          {fields.map((off) => (
            <path
              key={off}
              d={`M${off * PER_DEG} 0L${off * PER_DEG * 9} 300`}
              stroke={tokens.furrow}
              strokeWidth="1.2"
            />
          ))}
          {rows.map((y) => (
            <path key={y} d={`M-600 ${y * PER_DEG}H600`} stroke={tokens.furrow} strokeWidth={0.6 + y / 30} />
          ))}
          <path d="M-600 0H600" stroke={tokens.ink} strokeWidth="2.2" />
          {[-60, -30, 30, 60].map((deg) => (
            <path
              key={deg}
              d={`M-16 ${-deg * PER_DEG}h32`}
              stroke={tokens.ink}
              strokeWidth="1"
              opacity="0.55"
            />
          ))}
          {pitch < -65 && (
            <circle cx={0} cy={90 * PER_DEG} r="5" fill="none" stroke={tokens.ink} strokeWidth="1.6" />
          )}
        </g>
      </g>
    </>
  );
}

function said(degrees: number, plus: string, minus: string): string {
  const whole = Math.round(degrees);
  return whole === 0 ? "level" : `${Math.abs(whole)} degrees ${whole > 0 ? plus : minus}`;
}
