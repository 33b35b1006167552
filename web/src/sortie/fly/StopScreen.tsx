import { Box, Button } from "@mui/material";
import { useEffect, useRef } from "react";
import { narrow, tokens } from "../../theme";
import type { Crossed } from "./lines";

const styles = {
  screen: {
    position: "fixed",
    inset: 0,
    zIndex: 1250,
    bgcolor: tokens.stop,
    color: tokens.sheet,
    display: "grid",
    gridTemplateRows: "1fr auto",
    p: 2.5,
    gap: 2,
  },
  words: { display: "grid", placeContent: "center", justifyItems: "center", textAlign: "center", gap: 2 },
  what: { fontSize: "clamp(30px, 8.5vw, 60px)", fontWeight: 780, lineHeight: 1.05 },
  noted: { ...narrow, fontSize: 24, fontWeight: 680 },
  do: { fontSize: "clamp(24px, 6.5vw, 44px)", fontWeight: 680, lineHeight: 1.15, maxWidth: 900 },
  keys: {
    display: "grid",
    gridTemplateColumns: "1fr 2fr",
    gap: 1.5,
    maxWidth: 900,
    mx: "auto",
    width: "100%",
  },
  key: {
    minHeight: 88,
    fontSize: 24,
    color: tokens.sheet,
    border: `3px solid ${tokens.sheet}`,
    "&:hover": { bgcolor: "transparent" },
  },
} as const;

interface Props {
  crossed: Crossed;
  onSeen: () => void;
  onWrong: () => void;
}

/** A line was crossed: the whole screen says so, and the one thing to do. */
export function StopScreen({ crossed, onSeen, onWrong }: Props) {
  const { line, value } = crossed;
  const seen = useRef<HTMLButtonElement>(null);
  useEffect(() => seen.current?.focus(), []);
  useEffect(() => sound(), []);
  const shown = line.limit.unit === "ft" ? `${value.toLocaleString("en")} ft` : Number(value.toFixed(1));
  return (
    <Box role="alertdialog" aria-modal aria-label={line.words} sx={styles.screen}>
      <Box sx={styles.words}>
        <svg width="150" height="150" viewBox="0 0 100 100" aria-hidden>
          <path
            d="M30 3H70L97 30V70L70 97H30L3 70V30Z"
            fill="none"
            stroke={tokens.sheet}
            strokeWidth="5"
            strokeLinejoin="round"
          />
          <path d="M50 22V58" stroke={tokens.sheet} strokeWidth="10" strokeLinecap="round" />
          <circle cx="50" cy="76" r="6" fill={tokens.sheet} />
        </svg>
        <Box sx={styles.what}>{line.words}</Box>
        {line.of !== "minutes" && <Box sx={styles.noted}>{shown} noted</Box>}
        <Box sx={styles.do}>{line.do}</Box>
      </Box>
      <Box sx={styles.keys}>
        <Button sx={{ ...styles.key, fontSize: 18 }} onClick={onWrong}>
          {line.of === "minutes" ? "Not so" : "Wrong number"}
        </Button>
        <Button ref={seen} sx={styles.key} onClick={onSeen}>
          Seen
        </Button>
      </Box>
    </Box>
  );
}

/** Two short tones, where the browser lets a page make any. */
function sound() {
  try {
    const audio = new AudioContext();
    const tone = audio.createOscillator();
    tone.frequency.value = 880;
    tone.connect(audio.destination);
    tone.start();
    tone.stop(audio.currentTime + 0.4);
    tone.onended = () => void audio.close();
  } catch {
    // No sound: the screen says it.
  }
}
