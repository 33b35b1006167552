import {
  Alert,
  Box,
  Button,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { memo, useState } from "react";
import { answered, server } from "../../api/client";
import type { PlanDocument } from "../../api/types";
import { Trouble } from "../../frame/states";
import { narrow, tokens } from "../../theme";
import { WhyNumber } from "../../why/WhyNumber";
import { editPlan } from "../edits";
import type { SortieWork } from "../useSortie";
import { NumberField } from "./NumberField";

const styles = {
  halves: { display: "grid", gridTemplateColumns: "minmax(0, 1.35fr) minmax(0, 1fr)", gap: 2 },
  report: { display: "grid", gridTemplateColumns: "1fr auto auto", gap: 1, alignItems: "start" },
  doubt: { py: 0, mt: 0.5, "& .MuiAlert-message": { py: 0.5 }, "& .MuiAlert-icon": { py: 0.5 } },
  taken: { fontSize: 13, color: tokens.fine, mt: 0.5 },
  numbers: {
    display: "grid",
    gridTemplateColumns: "repeat(3, minmax(0, 1fr))",
    gap: 1.2,
    mt: 1.4,
    "& .MuiFormHelperText-root": { m: 0, mt: "1px", fontSize: 11.5, lineHeight: 1.15 },
  },
  winds: {
    ...narrow,
    "& td, & th": { py: 0.3, px: 0.5, border: 0 },
    "& .MuiInputBase-input": { py: "3px" },
  },
  worked: { mt: 0.5, fontSize: 14, display: "grid", gap: 0.4 },
} as const;

type Day = PlanDocument["day"];

/** "METAR XSKA 25 1420Z, stand-in weather service" is "METAR 1420Z" under a field: the whole stands in the report above. */
function inShort(source: string): string {
  return source.replace(/^METAR \w+ \d\d (\d{4}Z).*$/, "METAR $1").replace("wind at height, ", "");
}

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
  const set = (edit: Partial<Day>, name: string) =>
    change(
      editPlan((plan) => {
        const sources = Object.fromEntries(
          Object.entries(plan.day.sources ?? {}).filter(([field]) => field !== name),
        );
        return { ...plan, day: { ...plan.day, ...edit, sources } };
      }),
      `type day ${Object.keys(edit)[0]}`,
    );
  const from = (name: string) => inShort(day.sources?.[name] ?? "typed in");
  const number = (v: number | null, take: (v: number) => void) => v !== null && take(v);
  const winds = day.winds ?? [];
  const setWind = (i: number, edit: Partial<(typeof winds)[number]>) =>
    set({ winds: winds.map((w, k) => (k === i ? { ...w, ...edit } : w)) }, "winds");
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
        <Box sx={styles.numbers}>
          <NumberField
            label="QNH"
            unit="hPa"
            value={day.qnh_hpa ?? 1013.25}
            note={from("qnh_hpa")}
            disabled={!editable}
            onValue={(v) => number(v, (n) => set({ qnh_hpa: n }, "qnh_hpa"))}
          />
          <NumberField
            label="Temperature"
            unit="°C"
            value={day.temperature_c ?? 15}
            note={from("temperature_c")}
            disabled={!editable}
            onValue={(v) => number(v, (n) => set({ temperature_c: n }, "temperature_c"))}
          />
          <NumberField
            label="Visibility"
            unit="SM"
            value={day.visibility_sm ?? 10}
            note={from("visibility_sm")}
            disabled={!editable}
            onValue={(v) => number(v, (n) => set({ visibility_sm: n }, "visibility_sm"))}
          />
          <NumberField
            label="Wind from"
            unit="°"
            value={day.wind_from_deg ?? 0}
            step={10}
            note={from("wind_from_deg")}
            disabled={!editable}
            onValue={(v) => number(v, (n) => set({ wind_from_deg: n }, "wind_from_deg"))}
          />
          <NumberField
            label="Wind"
            unit="kt"
            value={day.wind_kt ?? 0}
            note={from("wind_from_deg")}
            disabled={!editable}
            onValue={(v) => number(v, (n) => set({ wind_kt: n }, "wind_from_deg"))}
          />
          <NumberField
            label="Gusts"
            unit="kt"
            optional
            placeholder="none"
            disabled={!editable}
            value={day.gust_kt ?? null}
            onValue={(v) => set({ gust_kt: v }, "wind_from_deg")}
          />
          <NumberField
            label="Cloud base"
            unit="ft QNH"
            value={day.cloud_base_ft ?? null}
            optional
            step={100}
            placeholder="none"
            note={from("cloud_base_ft")}
            disabled={!editable}
            onValue={(v) => set({ cloud_base_ft: v }, "cloud_base_ft")}
          />
        </Box>
      </Box>
      <Box>
        <Typography variant="h2" component="h3">
          Wind at height{" "}
          <Box component="span" sx={{ fontWeight: 400, fontSize: 12.5 }}>
            {winds.length ? from("winds") : "the surface wind is used"}
          </Box>
        </Typography>
        {winds.length > 0 && (
          <Table size="small" sx={styles.winds}>
            <TableHead>
              <TableRow sx={{ "& th": { lineHeight: 1.2 } }}>
                <TableCell>ft QNH</TableCell>
                <TableCell>from °</TableCell>
                <TableCell>kt</TableCell>
                <TableCell />
              </TableRow>
            </TableHead>
            <TableBody>
              {winds.map((w, i) => (
                <TableRow key={i}>
                  {(["height_ft", "from_deg", "kt"] as const).map((name) => (
                    <TableCell key={name}>
                      <NumberField
                        label=""
                        aria={`Wind ${i + 1}, ${name === "height_ft" ? "height ft" : name === "from_deg" ? "from degrees" : "kt"}`}
                        value={w[name]}
                        disabled={!editable}
                        onValue={(v) => number(v, (n) => setWind(i, { [name]: n }))}
                      />
                    </TableCell>
                  ))}
                  <TableCell>
                    {editable && (
                      <Button
                        size="small"
                        sx={{ minWidth: 0, minHeight: 28 }}
                        aria-label={`Remove wind ${i + 1}`}
                        onClick={() => set({ winds: winds.filter((_, k) => k !== i) }, "winds")}
                      >
                        Remove
                      </Button>
                    )}
                  </TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        )}
        {editable && winds.length < 6 && (
          <Button
            size="small"
            onClick={() =>
              set(
                {
                  winds: [
                    ...winds,
                    {
                      height_ft: 2000 * (winds.length + 1),
                      from_deg: day.wind_from_deg ?? 0,
                      kt: day.wind_kt ?? 0,
                    },
                  ],
                },
                "winds",
              )
            }
            sx={{ minHeight: 32 }}
          >
            Add a height
          </Button>
        )}
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
