import { Alert, Box, Button, TextField, Typography } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { memo, useState } from "react";
import { answered, server } from "../../api/client";
import { Trouble } from "../../frame/states";
import { tokens } from "../../theme";
import { WhyNumber } from "../../why/WhyNumber";
import { editPlan } from "../edits";
import type { SortieWork } from "../useSortie";
import { DayNumbers, type SetDay } from "./DayNumbers";
import { Winds } from "./Winds";

const styles = {
  halves: {
    display: "grid",
    gridTemplateColumns: "minmax(0, 1fr)",

    "@container (min-width: 560px)": { gridTemplateColumns: "minmax(0, 1.35fr) minmax(0, 1fr)" },
    gap: 2,
  },
  report: { display: "grid", gridTemplateColumns: "1fr auto auto", gap: 1, alignItems: "start" },
  doubt: { py: 0, mt: 0.5, "& .MuiAlert-message": { py: 0.5 }, "& .MuiAlert-icon": { py: 0.5 } },
  taken: { fontSize: 13, color: tokens.fine, mt: 0.5 },
  worked: { mt: 0.5, fontSize: 14, display: "grid", gap: 0.4 },
} as const;

/** The day as reported: pasted, fetched or typed; every number keeps where it came from. */
export const DayPanel = memo(function DayPanel({ work, editable }: { work: SortieWork; editable: boolean }) {
  const { draft, change, answer } = work;
  const { day } = draft.plan;
  const [text, setText] = useState(day.report ?? "");
  const [doubts, setDoubts] = useState<{ of: string; lines: string[]; taken: string } | null>(null);
  const read = useMutation({
    mutationFn: (report: string | null) =>
      answered(
        server.POST("/api/sorties/{sortie_id}/weather", {
          params: { path: { sortie_id: work.sortie.id } },
          body: { day, place_id: draft.place_id, report },
        }),
      ),
    onSuccess: (found) => {
      change(editPlan((plan) => ({ ...plan, day: found.day })));
      setText(found.day.report ?? "");
      setDoubts({ of: found.day.report ?? "", lines: found.doubts, taken: found.taken });
    },
  });
  // A number typed by hand is no longer the report's.
  const set: SetDay = (edit, name) =>
    change(
      editPlan((plan) => {
        const sources = Object.fromEntries(
          Object.entries(plan.day.sources ?? {}).filter(([field]) => field !== name),
        );
        return { ...plan, day: { ...plan.day, ...edit, sources } };
      }),
      `type day ${Object.keys(edit)[0]}`,
    );
  const daylight = answer.checks.find((c) => c.kind === "daylight");
  return (
    <Box sx={styles.halves}>
      <Box>
        <Box sx={styles.report}>
          <TextField
            label="METAR"
            multiline
            maxRows={2}
            value={text}
            disabled={!editable}
            onChange={(e) => setText(e.target.value)}
            placeholder="Paste the whole report"
            slotProps={{ htmlInput: { maxLength: 1000 }, inputLabel: { shrink: true } }}
            fullWidth
          />
          <Button
            variant="outlined"
            disabled={!editable || read.isPending || text.trim() === ""}
            onClick={() => read.mutate(text)}
          >
            Read it
          </Button>
          <Button
            variant="contained"
            disabled={!editable || read.isPending}
            onClick={() => read.mutate(null)}
          >
            Fetch
          </Button>
        </Box>
        {read.isError && <Trouble error={read.error} />}
        {!read.isError &&
          doubts?.of === day.report &&
          doubts.lines.map((line) => (
            <Alert key={line} severity="warning" sx={styles.doubt}>
              Report {line}
            </Alert>
          ))}
        {!read.isError && doubts?.of === day.report && doubts.lines.length === 0 && (
          <Typography role="status" sx={styles.taken}>
            Taken: {doubts.taken}.
          </Typography>
        )}
        <DayNumbers day={day} editable={editable} set={set} />
      </Box>
      <Box>
        <Winds day={day} editable={editable} set={set} />
        <Box sx={styles.worked}>
          <span>
            Density height in the block <WhyNumber answer={answer.density_height} />: climb{" "}
            <WhyNumber answer={answer.climb} />
          </span>
          <span>
            Drift in all <WhyNumber answer={answer.drift.total} />, work along{" "}
            <WhyNumber answer={answer.drift.work_along} />
          </span>
          {daylight?.deciding && (
            <span>
              {daylight.sentence} <WhyNumber answer={daylight.deciding} text={daylight.spare} />
            </span>
          )}
        </Box>
      </Box>
    </Box>
  );
});
