import { Box, Button, MenuItem, Slider, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Trace } from "../../api/types";
import { FlownSide } from "../../charts/FlownSide";
import { SpeedAndGFlown } from "../../charts/SpeedAndGFlown";
import { useCommands } from "../../frame/commands";
import { Key } from "../../frame/Key";
import { narrow, tokens, TOUCH } from "../../theme";
import { MovingAlong, SeenFrom, VIEW } from "./Moving";
import { SPEEDS, useMoment, useReplaying, valueAt, type Replay } from "./replay";

const styles = {
  whole: {
    gridColumn: "1 / -1",
    display: "flex",
    flexWrap: { xs: "wrap", lg: "nowrap" },
    alignItems: "flex-start",
    gap: 1,
    bgcolor: tokens.sheet,
    border: `1px solid ${tokens.hairline}`,
    borderRadius: 1,
    p: 0.5,
  },
  bar: {
    flex: 1,
    minWidth: 0,
    display: "flex",
    flexWrap: "wrap",
    columnGap: 0.6,
    rowGap: 0.2,
    alignItems: "center",
    alignContent: "center",
    "& button": { minWidth: 0, px: 0.8, minHeight: 34, [TOUCH]: { minHeight: 44 } },
  },
  moments: {
    flex: "1 1 100%",
    display: "grid",
    gridTemplateColumns: "minmax(0, 1fr) 158px",
    columnGap: 1,
    alignItems: "center",
  },
  // What is drawn of speed and g stands over its ends.
  slider: { py: 0.6, "& .MuiSlider-thumb": { width: 14, height: 14 } },
  said: { ...narrow, fontSize: 13, fontWeight: 660, whiteSpace: "nowrap" },
  choice: { "& .MuiInputBase-root": { fontSize: 13 }, minWidth: 76 },
  moment: { ...narrow, fontSize: 12.5 },
} as const;

export interface Against {
  key: string;
  words: string;
}

export interface Word {
  at_s: number;
  word: string;
}

interface Props {
  replay: Replay;
  trace: Trace;
  title: string;
  speedUnit: string;
  against: readonly Against[];
  chosen: string;
  onChoose: (key: string) => void;
  words: readonly Word[];
  /** Where words may be added. */ onWord: ((word: Word) => void) | undefined;
  onWithout: (word: Word) => void;
}

/** The recorded figure flown again: play, hold, step, a part over and over, beside another flight of it; a word to a
 * moment. */
export function ReplayBar(props: Props) {
  const { replay, trace, title, speedUnit, against, chosen, onChoose, words, onWord, onWithout } = props;
  useReplaying(replay);
  const [naming, setNaming] = useState<string | null>(null);
  useCommands({
    replay: () => replay.toggle(),
    frameBack: () => replay.step(-1),
    frameOn: () => replay.step(1),
  });
  const loop = replay.loop;
  const name = () => {
    if (naming?.trim() && onWord) onWord({ at_s: Math.round(replay.at * 10) / 10, word: naming.trim() });
    setNaming(null);
  };
  return (
    <Box component="section" aria-label="Replay" data-print="no" sx={styles.whole}>
      <SeenFrom replay={replay} trace={trace} />
      <FlownSide
        trace={trace}
        title={title}
        size={VIEW}
        over={(on) => <MovingAlong replay={replay} trace={trace} on={on} />}
      />
      <Box sx={styles.bar}>
        <Moment replay={replay} trace={trace} speedUnit={speedUnit} />
        <Button variant="contained" size="small" onClick={() => replay.toggle()}>
          {replay.playing ? "Hold" : "Play"}
          <Key of="replay" pale />
        </Button>
        <Button size="small" aria-label="Back a frame" onClick={() => replay.step(-1)}>
          ‹<Key of="frameBack" />
        </Button>
        <Button size="small" aria-label="On a frame" onClick={() => replay.step(1)}>
          ›<Key of="frameOn" />
        </Button>
        <TextField
          select
          size="small"
          aria-label="Speed"
          sx={styles.choice}
          value={replay.speed}
          slotProps={{ htmlInput: { "aria-label": "Speed of the replay" } }}
          onChange={(e) => replay.setSpeed(Number(e.target.value))}
        >
          {SPEEDS.map((speed) => (
            <MenuItem key={speed} value={speed}>
              {speed} ×
            </MenuItem>
          ))}
        </TextField>
        <Button
          size="small"
          aria-pressed={loop !== null}
          onClick={() =>
            replay.setLoop(
              loop ? null : [Math.max(replay.from, replay.at - 2), Math.min(replay.to, replay.at + 2)],
            )
          }
        >
          {loop ? `Over and over: ${loop[0].toFixed(1)} to ${loop[1].toFixed(1)} s` : "Over and over"}
        </Button>
        {against.length > 0 && (
          <TextField
            select
            size="small"
            sx={styles.choice}
            value={chosen}
            slotProps={{ htmlInput: { "aria-label": "Against" }, select: { displayEmpty: true } }}
            onChange={(e) => onChoose(e.target.value)}
          >
            <MenuItem value="">against the brief</MenuItem>
            {against.map((one) => (
              <MenuItem key={one.key} value={one.key}>
                against {one.words}
              </MenuItem>
            ))}
          </TextField>
        )}
        {onWord &&
          (naming === null ? (
            <Button
              size="small"
              onClick={() => {
                replay.hold();
                setNaming("");
              }}
            >
              A word…
            </Button>
          ) : (
            <TextField
              size="small"
              autoFocus
              placeholder="What happens here?"
              slotProps={{ htmlInput: { "aria-label": "Word to this moment", maxLength: 60 } }}
              value={naming}
              onChange={(e) => setNaming(e.target.value)}
              onBlur={name}
              onKeyDown={(e) => {
                if (e.key === "Enter") name();
                if (e.key === "Escape") setNaming(null);
              }}
            />
          ))}
        {words.map((word) => (
          <Box key={`${word.at_s} ${word.word}`} component="span" sx={styles.moment}>
            <Button size="small" onClick={() => replay.seek(word.at_s)}>
              {word.at_s.toFixed(1)} s: {word.word}
            </Button>
            {onWord && (
              <Button size="small" aria-label={`Without ${word.word}`} onClick={() => onWithout(word)}>
                ×
              </Button>
            )}
          </Box>
        ))}
      </Box>
    </Box>
  );
}

/** Where it is, and what stood there. */
function Moment({ replay, trace, speedUnit }: Pick<Props, "replay" | "trace" | "speedUnit">) {
  const at = useMoment(replay);
  const height = valueAt(trace, "height_ft", at),
    speed = valueAt(trace, "ias", at),
    g = valueAt(trace, "g", at);
  const seconds = `${at.toFixed(1).replace("-", "−")} s`;
  const stood = [
    height !== null && `${(Math.round(height / 10) * 10).toLocaleString("en")} ft`,
    speed !== null && `${Math.round(speed)} ${speedUnit}`,
    g !== null && `${g.toFixed(1).replace("-", "−")} g`,
  ].filter(Boolean);
  const said = stood.length > 0 ? `${seconds}: ${stood.join(", ")}` : seconds;
  return (
    <Box sx={styles.moments}>
      <SpeedAndGFlown trace={trace} unit={speedUnit} />
      <Slider
        size="small"
        aria-label="Moment of the replay"
        sx={styles.slider}
        min={replay.from}
        max={replay.to}
        step={0.1}
        value={at}
        getAriaValueText={() => said}
        onChange={(_, value) => replay.seek(value)}
      />
      <Typography component="output" sx={styles.said}>
        {said}
      </Typography>
    </Box>
  );
}
