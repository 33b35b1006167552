import { Box, Button, Paper, TextField, Typography, useMediaQuery } from "@mui/material";
import type { Attempt, Catalogue } from "../../api/types";
import { useBounds } from "../../forms/bounds";
import { NumberField } from "../../forms/NumberField";
import { lastGo, type Edits, type Go } from "../../notes/entry";
import { narrow, ONE_COLUMN, tokens } from "../../theme";
import { FEEL_ENDS } from "../../frame/feel";
import { MinutesFlown } from "../MinutesFlown";
import { NotYet, type StageProps } from "../stage";
import { heightLost, WhatBecame, WhoFlew } from "../Went";
import { titleOf, type FlyFigure } from "./figures";
import { heightAt, preset, type HeightStep } from "./steps";

const styles = {
  whole: { height: "100%", overflow: "auto", bgcolor: tokens.paper },
  page: { maxWidth: 1240, mx: "auto", p: { xs: 1.25, sm: 2 }, display: "grid", gap: 1 },
  head: { display: "flex", justifyContent: "space-between", alignItems: "center", gap: 1, flexWrap: "wrap" },
  row: {
    border: `1px solid ${tokens.hairline}`,
    p: 1,
    display: "grid",
    gap: 0.75,
    alignItems: "start",
    gridTemplateColumns: {
      xs: "repeat(4, minmax(0, 1fr))",
      md: "repeat(5, minmax(0, 1fr)) minmax(0, 1.8fr) minmax(0, 1.8fr) 110px",
      lg: "minmax(0, 1.4fr) repeat(4, 84px) 62px minmax(0, 1.4fr) minmax(0, 1.3fr) 110px",
    },
  },
  name: { gridColumn: { xs: "1 / -1", lg: "auto" }, fontWeight: 680, lineHeight: 1.15, fontSize: 15 },
  lost: { ...narrow, display: "block", fontWeight: 500, color: tokens.slate },
  missing: { ...narrow, display: "block", fontWeight: 680, color: tokens.mindInk },
  who: { gridColumn: { xs: "span 3", md: "auto" }, minWidth: 0 },
  became: { gridColumn: { xs: "span 2", md: "auto" }, minWidth: 0 },
  keys: {
    gridColumn: { xs: "span 2", md: "auto" },
    display: "flex",
    flexDirection: { md: "column" },
    "& .MuiButton-root": { minHeight: { xs: 44, lg: 28 }, py: 0, fontSize: 13 },
  },
  end: {
    display: "grid",
    gap: 1,
    gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(0, 1fr) 230px 190px" },
    alignItems: "start",
  },
} as const;

/** Long words of who flew are cut in their field and whole in its list. */
const CHOSEN = {
  select: { displayEmpty: true, SelectDisplayProps: { "data-may-cut": true } as object },
  inputLabel: { shrink: true },
};
const HEIGHTS: [HeightStep, string][] = [
  ["start_ft", "Start"],
  ["recover_ft", "Recover"],
  ["lowest_ft", "Lowest"],
  ["level_ft", "Level"],
];

interface Props {
  work: StageProps["work"];
  figures: readonly FlyFigure[];
  catalogue: Catalogue | undefined;
  onBack: () => void;
  onDone: () => void;
}

/** After landing, one page: what is missing, who flew what, what became of it, one sentence. Flown without a device it is
 * all of it, from the first field to the last by the keyboard. */
export function Landed({ work, figures, catalogue, onBack, onDone }: Props) {
  const { attempts, note } = work.notes;
  const { debrief } = work.draft;
  const editable = work.sortie.may.note;
  const feel = useBounds("debrief")("feel");
  const goes = figures.flatMap((figure): [FlyFigure, Go][] => {
    const of = attempts.filter((a) => a.planned.id === figure.planned.id);
    return (of.length > 0 ? of : [lastGo(attempts, figure.planned)]).map((go) => [figure, go]);
  });
  const open = goes.filter(([, go]) => missingOf(attempts.find((a) => a.id === go.id) ?? null).length > 0);
  const alone = useMediaQuery(ONE_COLUMN);
  const flown = work.sortie.reached.includes("flown");
  return (
    <Box sx={styles.whole}>
      <Box sx={styles.page}>
        <Box sx={styles.head}>
          <Typography variant="h1" component={alone ? "h1" : "h2"}>
            {open.length === 0
              ? "All heights are noted"
              : `Heights missing in ${open.length} of ${goes.length}`}
          </Typography>
          <Button onClick={onBack} sx={{ minHeight: 44 }}>
            ‹ Back to the figure
          </Button>
        </Box>
        {goes.map(([figure, go]) => (
          <Row
            key={go.id}
            title={`${titleOf(figure, go.planned)}${goNumber(go)}`}
            figure={figure}
            attempt={attempts.find((a) => a.id === go.id) ?? null}
            who={catalogue?.flown_by ?? [figure.planned.flown_by]}
            editable={editable}
            edit={(edits, offered) => note(go, edits, offered)}
          />
        ))}
        {!flown && work.sortie.may.move !== "flown" && (
          <NotYet work={work} stage="flown" words="Before the debrief:" />
        )}
        <Box sx={styles.end}>
          <TextField
            label="The flight in one sentence"
            value={debrief.note}
            disabled={!work.sortie.may.save}
            onChange={(e) =>
              work.change(
                (d) => ({ ...d, debrief: { ...d.debrief, note: e.target.value } }),
                "type debrief note",
              )
            }
          />
          <NumberField
            label={`Feel at the end, ${FEEL_ENDS}`}
            {...feel}
            value={debrief.feel ?? null}
            optional
            disabled={!work.sortie.may.save}
            onValue={(end) => work.change((d) => ({ ...d, debrief: { ...d.debrief, feel: end } }))}
          />
          <MinutesFlown work={work} />
          <Button
            variant="contained"
            disabled={!flown && work.sortie.may.move !== "flown"}
            sx={{ minHeight: 56, fontSize: 17 }}
            onClick={onDone}
          >
            Debrief ›
          </Button>
        </Box>
      </Box>
    </Box>
  );
}

/** ", go 2" for every one but the first. */
function goNumber(go: Go): string {
  const n = /\.(\d+)$/.exec(go.id)?.[1];
  return go.id !== go.planned.id && n ? `, go ${n}` : "";
}

/** The heights that nobody noted of what was flown to its end. */
function missingOf(attempt: Attempt | null): HeightStep[] {
  if (attempt?.skipped || attempt?.abandoned) return [];
  return HEIGHTS.map(([step]) => step).filter((step) => heightAt(attempt, step) === null);
}

interface RowProps {
  title: string;
  figure: FlyFigure;
  attempt: Attempt | null;
  who: readonly Attempt["flown_by"][];
  editable: boolean;
  edit: (edits: Edits, offered?: readonly string[]) => void;
}

function Row({ title, figure, attempt, who, editable, edit }: RowProps) {
  const bounds = useBounds("attempt");
  const missing = missingOf(attempt);
  const lost = heightLost(attempt);
  const skipped = attempt?.skipped ?? false;
  const fixed = !editable || skipped;
  return (
    <Paper component="section" aria-label={title} sx={styles.row}>
      <Box sx={styles.name}>
        {title}
        <Box component="span" sx={missing.length > 0 && !lost ? styles.missing : styles.lost}>
          {skipped ? "not flown" : lost ? `${lost} ft` : "not noted"}
        </Box>
      </Box>
      {HEIGHTS.map(([step, words]) => (
        <NumberField
          key={step}
          label={words}
          aria={`${title}: ${words}`}
          {...bounds(step)}
          value={heightAt(attempt, step)}
          placeholder={skipped ? undefined : `${preset(figure, attempt, step)}?`}
          optional
          step={20}
          disabled={fixed}
          onValue={(ft) => edit({ [step]: ft })}
        />
      ))}
      <NumberField
        label="Feel"
        aria={`${title}: Feel`}
        {...bounds("feel")}
        value={attempt?.feel ?? null}
        optional
        disabled={fixed}
        onValue={(n) => edit({ feel: n })}
      />
      <WhoFlew
        value={attempt?.flown_by ?? figure.planned.flown_by}
        who={who}
        disabled={fixed}
        slotProps={CHOSEN}
        sx={styles.who}
        edit={edit}
      />
      <WhatBecame
        value={attempt?.outcome}
        outcomes={figure.outcomes}
        disabled={fixed}
        slotProps={CHOSEN}
        sx={styles.became}
        edit={edit}
      />
      <Box sx={styles.keys}>
        <Button
          size="small"
          disabled={fixed || missing.length === 0}
          onClick={() =>
            edit(Object.fromEntries(missing.map((step) => [step, preset(figure, attempt, step)])), missing)
          }
        >
          As planned
        </Button>
        <Button size="small" disabled={!editable} onClick={() => edit({ skipped: skipped ? null : true })}>
          {skipped ? "Flown" : "Not flown"}
        </Button>
      </Box>
    </Paper>
  );
}
