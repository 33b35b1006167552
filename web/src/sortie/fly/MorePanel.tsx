import { Box, Button, Drawer, Typography } from "@mui/material";
import { LateText } from "../../forms/LateText";
import type { Edits } from "../../notes/entry";
import { LightKey } from "../../frame/LightKey";
import { tokens } from "../../theme";
import type { Attempt, Catalogue, PlannedFigure } from "../../api/types";
import { AddFigure, FigureList } from "./FigureList";
import type { FlyFigure } from "./figures";

const styles = {
  panel: { p: 1.5, display: "grid", gap: 1.5, maxWidth: 620, mx: "auto", width: "100%" },
  row: { display: "grid", gridTemplateColumns: "1fr 1fr 0.6fr", gap: 1 },
  key: { minHeight: 64, fontSize: 17 },
} as const;

interface Props {
  open: boolean;
  figures: readonly FlyFigure[];
  current: FlyFigure;
  /** The attempt that the words below are about: what is typed for one never lands on another. */ about: string;
  title: string;
  attempt: Attempt | null;
  attempts: readonly Attempt[];
  catalogue: Catalogue | undefined;
  editable: boolean;
  onClose: () => void;
  onChoose: (id: string) => void;
  onAdd: (planned: PlannedFigure) => void;
  onLeave: () => void;
  onLand: () => void;
  edit: (edits: Edits) => void;
}

/** Everything that is not needed in ten seconds: the list, leaving out, breaking off, a note, landing. */
export function MorePanel(props: Props) {
  const { open, figures, current, about, title, attempt, attempts, catalogue, editable } = props;
  const { onClose, onChoose, onAdd, onLeave, onLand, edit } = props;
  const choose = (id: string) => {
    onChoose(id);
    onClose();
  };
  return (
    <Drawer
      anchor="bottom"
      open={open}
      onClose={onClose}
      slotProps={{ paper: { sx: { maxHeight: "92dvh" }, "aria-label": "List" } }}
    >
      <Box sx={styles.panel}>
        <Box sx={styles.row}>
          <Button variant="outlined" sx={styles.key} onClick={onLeave}>
            ‹ Leave Fly
          </Button>
          <Button variant="outlined" sx={styles.key} onClick={onClose}>
            Back to the figure
          </Button>
          <LightKey variant="outlined" sx={styles.key} />
        </Box>
        <FigureList figures={figures} attempts={attempts} current={current.planned.id} onChoose={choose} />
        {editable && (
          <>
            <AddFigure
              catalogue={catalogue}
              start_ft={attempts.at(-1)?.level_ft ?? current.planned.start_ft}
              onAdd={(planned) => {
                onAdd(planned);
                onClose();
              }}
            />
            <Typography variant="h2">{title}</Typography>
            <Box key={about} sx={{ display: "grid", gap: 1.5 }}>
              <LateText
                label="Note"
                multiline
                value={attempt?.note ?? ""}
                onValue={(note) => edit({ note: note || null })}
              />
              <LateText
                label="Broken off: why"
                value={attempt?.abandoned ?? ""}
                onValue={(abandoned) => edit({ abandoned: abandoned.trim() || null })}
              />
            </Box>
            <Button
              variant="outlined"
              sx={styles.key}
              onClick={() => edit({ skipped: attempt?.skipped ? null : true })}
            >
              {attempt?.skipped ? "Not skipped after all" : "Skip this figure"}
            </Button>
          </>
        )}
        <Button
          variant="contained"
          sx={{ ...styles.key, color: tokens.onPlan }}
          onClick={() => {
            onClose();
            onLand();
          }}
        >
          Landed: what is missing
        </Button>
      </Box>
    </Drawer>
  );
}
