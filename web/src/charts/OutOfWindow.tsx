import { Box } from "@mui/material";
import { useId } from "react";
import { narrow, tokens } from "../theme";

const styles = {
  words: { ...narrow, fontSize: 13, lineHeight: 1.25, mt: 0.3 },
} as const;

interface Props {
  pitch: number;
  bank: number;
  heading: number;
  height: number;
  words?: string;
  size?: number;
}

const W = 200,
  H = 132,
  PER_DEG = 2.1;

/** What the pilot sees ahead: horizon, ground with fields running away, the nose of the aircraft. */
export function OutOfWindow({ pitch, bank, heading, height, words, size = W }: Props) {
  const id = useId();
  const drop = Math.max(-95, Math.min(95, pitch)) * PER_DEG;
  // Lines on the ground run to the horizon on headings: they turn as the aircraft turns.
  const fields = [...Array(24).keys()]
    .map((i) => ((((i * 15 - heading) % 360) + 540) % 360) - 180)
    .filter((off) => Math.abs(off) < 75);
  const rows = [3, 6, 11, 19, 33, 58];
  return (
    <Box component="figure" sx={{ m: 0, width: size, maxWidth: "100%" }}>
      <svg
        viewBox={`0 0 ${W} ${H}`}
        width="100%"
        style={{ display: "block" }}
        role="img"
        aria-label={`Out of the window${words ? `, ${words}` : ""}: nose ${said(pitch, "up", "down")}, bank ${said(bank, "right", "left")}, ${Math.round(height / 10) * 10} ft`}
      >
        <defs>
          <clipPath id={id}>
            <rect width={W} height={H} rx="5" />
          </clipPath>
        </defs>
        <g clipPath={`url(#${id})`}>
          <rect width={W} height={H} fill={tokens.air} />
          <g transform={`translate(${W / 2} ${H * 0.46}) rotate(${-bank}) translate(0 ${drop})`}>
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
              <path
                key={y}
                d={`M-600 ${y * PER_DEG}H600`}
                stroke={tokens.furrow}
                strokeWidth={0.6 + y / 30}
              />
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
          <path
            d={`M${W / 2 - 66} ${H}Q${W / 2 - 52} ${H - 30} ${W / 2} ${H - 34}Q${W / 2 + 52} ${H - 30} ${W / 2 + 66} ${H}Z`}
            fill={tokens.cowl}
          />
          <path
            d={`M${W / 2 - 12} ${H * 0.46}h8M${W / 2 + 4} ${H * 0.46}h8M${W / 2} ${H * 0.46 - 3}v6`}
            stroke={tokens.stop}
            strokeWidth="2.4"
          />
        </g>
      </svg>
      {words && (
        <Box component="figcaption" sx={styles.words}>
          {words}
        </Box>
      )}
    </Box>
  );
}

function said(degrees: number, plus: string, minus: string): string {
  const whole = Math.round(degrees);
  return whole === 0 ? "level" : `${Math.abs(whole)} degrees ${whole > 0 ? plus : minus}`;
}
