import { Box, LinearProgress, Typography } from "@mui/material";
import type { Technique } from "../../api/types";
import { ControlLanes } from "../../charts/ControlLanes";
import { tokens } from "../../theme";
import { MovingLine } from "./Moving";
import type { Replay } from "./replay";

interface Props {
  technique: Technique | null | undefined;
  waiting: boolean;
  title: string;
  /** The recorded figure flown again, where there is a recording. */ replay: Replay | null;
  /** When it really began, after it was found to (s). */ begins_s: number;
}

/** When each control was moved, beside the method as briefed; nothing for a figure that has no recovery. */
export function OrderAndTiming({ technique, waiting, title, replay, begins_s }: Props) {
  if (waiting) return <LinearProgress aria-label="How it was flown" sx={{ alignSelf: "start" }} />;
  const lanes = technique?.lanes;
  if (!lanes) return <span />;
  const found = technique.faults.filter((fault) => fault.found);
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateRows: "auto minmax(140px, 1fr)",
        minHeight: 0,
        bgcolor: tokens.sheet,
      }}
    >
      <Typography variant="h2" component="h3" sx={{ px: 1, pt: 0.5 }}>
        Order and timing{" "}
        <Box component="span" sx={{ fontWeight: 400 }}>
          <b style={{ color: tokens.flown }}>flown</b>, dashed{" "}
          <b style={{ color: tokens.best }}>the method</b>,{" "}
          {lanes.from_controls ? "from the controls" : "inferred from how it moved"}
        </Box>
      </Typography>
      <ControlLanes
        lanes={lanes}
        faults={found}
        title={title}
        over={
          replay
            ? (x, top, bottom) => (
                <MovingLine
                  replay={replay}
                  place={(at) => x(at - begins_s - lanes.called_s)}
                  within={[x(lanes.from_s), x(lanes.to_s)]}
                  top={top}
                  bottom={bottom}
                />
              )
            : undefined
        }
        onFault={({ key, at_s }) => {
          document.getElementById(`fault-${key}`)?.scrollIntoView({ block: "nearest" });
          replay?.seek(at_s + begins_s);
        }}
      />
    </Box>
  );
}
