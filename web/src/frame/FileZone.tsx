import { Box, Button, LinearProgress, Typography } from "@mui/material";
import { useRef, useState, type ReactNode } from "react";
import { narrow, tokens } from "../theme";

const styles = {
  over: { outline: `2px dashed ${tokens.flown}`, outlineOffset: 3 },
  name: { fontWeight: 660, overflowWrap: "anywhere" },
  said: { ...narrow, color: tokens.slate, fontSize: 13 },
} as const;

export interface Going {
  name: string;
  /** Of the way, 0 to 1. */ share: number;
  stop: () => void;
}

interface Props {
  label: string;
  /** On the button. */ words: string;
  /** Under it; empty for none. */ hint: string;
  /** Whether a file may come here. */ may: boolean;
  going: Going | null;
  onFile: (file: File) => void;
  sx: object;
  children?: ReactNode;
}

/** Where a file is dropped or chosen, and how far it has come on its way. */
export function FileZone({ label, words, hint, may, going, onFile, sx, children }: Props) {
  const [over, setOver] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  return (
    <Box
      component="section"
      aria-label={label}
      data-print="no"
      sx={over ? { ...sx, ...styles.over } : sx}
      onDragOver={(e) => {
        if (!may) return;
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        const file = e.dataTransfer.files[0];
        if (file && may && !going) onFile(file);
      }}
    >
      {children}
      {going && (
        <Box role="status" sx={{ fontSize: 13, lineHeight: 1.25 }}>
          <Box sx={styles.name}>{going.name}</Box>
          <LinearProgress
            aria-label={`Sending ${going.name}`}
            variant={going.share < 1 ? "determinate" : "indeterminate"}
            value={100 * going.share}
            sx={{ my: 0.6 }}
          />
          <Box sx={styles.said}>
            {going.share < 1 ? `${Math.round(100 * going.share)} % sent` : "Being read"}
          </Box>
          <Button size="small" onClick={going.stop}>
            Stop
          </Button>
        </Box>
      )}
      {may && !going && (
        <Button
          variant="outlined"
          size="small"
          onClick={() => input.current?.click()}
          sx={{ minHeight: 44, justifySelf: "start" }}
        >
          {words}
        </Button>
      )}
      {may && !going && hint && <Typography sx={styles.said}>{hint}</Typography>}
      <input
        ref={input}
        type="file"
        hidden
        aria-label="Recorder's file"
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = "";
          if (file) onFile(file);
        }}
      />
    </Box>
  );
}
