import { Box } from "@mui/material";
import { useRef } from "react";
import { narrow, tokens } from "../../theme";
import { slid, type Slide } from "./slide";
import { FAST_NOTCH_FT, KEY_WORDS, NOTCH_FT, type HeightStep } from "./steps";

const ARROW = { fontSize: 22, opacity: 0.8, lineHeight: 1 } as const;
const styles = {
  key: {
    border: 0,
    borderRadius: "14px",
    bgcolor: tokens.plan,
    color: tokens.onPlan,
    font: "inherit",
    width: "100%",
    height: "100%",
    minHeight: 150,
    display: "grid",
    placeContent: "center",
    gap: 0.5,
    textAlign: "center",
    cursor: "pointer",
    touchAction: "none",
    userSelect: "none",
    position: "relative",
    "&::before": { content: '"▲"', ...ARROW },
    "&::after": { content: '"▼"', ...ARROW },
    "&:disabled": { bgcolor: tokens.hairline, color: tokens.slate, cursor: "default" },
    "&[data-noted]": {
      bgcolor: tokens.sheet,
      color: tokens.ink,
      boxShadow: `inset 0 0 0 4px ${tokens.flown}`,
    },
  },
  word: { display: "block", fontSize: "clamp(30px, 9.5vw, 52px)", fontWeight: 780, lineHeight: 1 },
  feet: { ...narrow, display: "block", fontSize: "clamp(44px, 15vw, 84px)", fontWeight: 780, lineHeight: 1 },
  how: { display: "block", fontSize: 15 },
} as const;

const BOUNCE_MS = 300;
const HOW = {
  open: "tap as you call it · slide to correct",
  noted: "noted · slide to correct",
  heard: "from the recorder · tap to confirm",
} as const;

interface Props {
  step: HeightStep;
  /** What stands on the key: where the thumb is, what is noted, or what is offered. */ ft: number;
  noted: boolean;
  /** It is the recorder's, and nobody has confirmed it. */ heard?: boolean;
  disabled: boolean;
  /** Where the thumb is; null when it is lifted without taking anything. */ onSlide: (
    ft: number | null,
  ) => void;
  /** offered: it was tapped as it stood on the key. */ onTake: (ft: number, offered: boolean) => void;
}

/** The next key: a tap takes the height on it, a slide of the thumb up or down corrects it. */
export function HeightKey({ step, ft, noted, heard, disabled, onSlide, onTake }: Props) {
  const held = useRef<{ slide: Slide; y: number; at: number } | null>(null);
  /** A lifted thumb that slid is followed by a click, which is none. */ const slidNow = useRef(false);
  /** When a height was taken: a bounce of the thumb does not take the next one. */ const taken =
    useRef(-1e9);
  /** Arrow keys have moved it away from what it offered. */ const corrected = useRef(false);
  const take = (height: number, offered: boolean) => {
    taken.current = performance.now();
    onTake(height, offered && !corrected.current);
    corrected.current = false;
  };
  return (
    <Box
      component="button"
      type="button"
      disabled={disabled}
      data-noted={noted ? "" : undefined}
      aria-description={`Up and down arrows: ${NOTCH_FT} ft; page up and down: ${FAST_NOTCH_FT} ft`}
      sx={styles.key}
      onPointerDown={(e: React.PointerEvent<HTMLButtonElement>) => {
        if (disabled || !e.isPrimary) return;
        slidNow.current = false;
        e.currentTarget.setPointerCapture?.(e.pointerId);
        held.current = { slide: { ft, rest: 0, moved: false }, y: e.clientY, at: e.timeStamp };
        // The key stays what it is for as long as the thumb is on it, whatever is noted meanwhile.
        onSlide(ft);
      }}
      onPointerMove={(e: React.PointerEvent) => {
        const was = held.current;
        if (!was) return;
        const next = slid(was.slide, was.y - e.clientY, e.timeStamp - was.at);
        held.current = { slide: next, y: e.clientY, at: e.timeStamp };
        if (next.moved) onSlide(next.ft);
      }}
      onPointerUp={() => {
        const slide = held.current?.slide;
        held.current = null;
        slidNow.current = slide?.moved ?? false;
        if (slide?.moved) take(slide.ft, false);
      }}
      onPointerCancel={() => {
        held.current = null;
        onSlide(null);
      }}
      onClick={() => {
        const bounced = performance.now() - taken.current < BOUNCE_MS;
        if (!slidNow.current && !bounced) take(ft, true);
        slidNow.current = false;
      }}
      onKeyDown={(e: React.KeyboardEvent) => {
        const by = {
          ArrowUp: NOTCH_FT,
          ArrowDown: -NOTCH_FT,
          PageUp: FAST_NOTCH_FT,
          PageDown: -FAST_NOTCH_FT,
        }[e.key];
        if (by === undefined) return;
        e.preventDefault();
        corrected.current = true;
        // Nobody bounces from one key to another.
        taken.current = -1e9;
        onSlide(Math.max(0, ft + by));
      }}
    >
      <Box component="span" sx={styles.word}>
        {KEY_WORDS[step]}
      </Box>
      <Box component="span" sx={styles.feet}>
        {ft.toLocaleString("en")}
      </Box>
      <Box component="span" sx={styles.how}>
        {HOW[noted ? (heard ? "heard" : "noted") : "open"]}
      </Box>
    </Box>
  );
}
