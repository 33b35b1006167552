import { Box, Button, Paper, Tab, Tabs, Typography, useMediaQuery } from "@mui/material";
import { useCallback, useDeferredValue, useMemo, useState } from "react";
import { useOutletContext } from "react-router";
import { useCatalogue } from "../../api/questions";
import type { Catalogue, Check, FigureAnswer, Person } from "../../api/types";
import { Key } from "../../frame/Key";
import { useCommands } from "../../frame/commands";
import { useStable } from "../../frame/useStable";
import { HeightStrip } from "../../strip/HeightStrip";
import { narrow, tokens, ONE_COLUMN, PHONE } from "../../theme";
import { ChecksColumn } from "../../verdict/ChecksColumn";
import { WhyNumber } from "../../why/WhyNumber";
import { editFigure, editPlan, freshId, override, placeFigure, removeFigure, repeatFigure } from "../edits";
import { column, type StageProps } from "../stage";
import { useCloser } from "../useCloser";
import { AddFigure } from "./AddFigure";
import { DayPanel } from "./DayPanel";
import { FigurePanel } from "./FigurePanel";
import { FitPanel, useFit } from "./Fit";
import { LoadPanel } from "./LoadPanel";
import { PlacePanel } from "./PlacePanel";
import { SequenceList } from "./SequenceList";
import { SetUps } from "./SetUps";
import { SidePanel } from "./SidePanel";

const styles = {
  page: {
    height: "100%",
    display: { xs: "block", md: "grid" },
    gridTemplateColumns: {
      xs: "minmax(0, 1fr)",
      md: "212px minmax(0, 1fr) 244px",
      lg: "250px minmax(0, 1fr) 290px",
    },
    gridTemplateRows: { md: "minmax(0, 1fr) auto" },
    overflow: { xs: "auto", md: "hidden" },
    scrollPaddingBottom: { xs: 76, md: 0 },
    "[data-why-open] &": { pb: { xs: "64vh", md: 0 } },
    "@media print": { display: "block", height: "auto", overflow: "visible" },
  },
  sequence: {
    p: { xs: 0, md: 1.5 },
    gridRow: { md: "1 / -1" },
    overflow: { xs: "visible", md: "auto" },
    borderRight: { md: `1px solid ${tokens.hairline}` },
  },
  middle: {
    p: 1.5,
    minWidth: 0,
    gridRow: { md: "1 / -1" },
    display: "grid",
    gridTemplateColumns: "minmax(0, 1fr)",
    gridTemplateRows: { xs: "auto 280px auto auto", md: "auto minmax(170px, 1fr) auto" },
    gap: 1,
    minHeight: 0,
    overflow: { xs: "visible", md: "hidden" },
  },
  head: {
    display: "flex",
    alignItems: "center",
    columnGap: 1.5,
    minWidth: 0,
    minHeight: 30,
    flexWrap: "wrap",
  },
  headEnd: { ml: "auto", display: "flex", alignItems: "center", flex: "none" },
  computing: { fontSize: 12.5, color: tokens.slate, mr: 1 },
  panel: {
    border: `1px solid ${tokens.hairline}`,
    height: { xs: "auto", md: 318 },
    overflow: "hidden",
    display: "flex",
    flexDirection: "column",
  },
  tabs: {
    minHeight: 36,
    flex: "none",
    borderBottom: `1px solid ${tokens.hairline}`,
    "& .MuiTab-root": {
      minHeight: 36,
      minWidth: 0,
      px: 1.6,
      py: 0,
      textTransform: "none",
      fontWeight: 660,
    },
  },
  panelContent: { p: 1.25, overflow: { xs: "visible", md: "auto" }, flex: 1, containerType: "inline-size" },
  below: {
    ...narrow,
    fontSize: 14,
    whiteSpace: "nowrap",
    color: tokens.slate,
    display: "flex",
    gap: 1.5,
    alignItems: "baseline",
    minWidth: 0,
  },
  empty: {
    display: "grid",
    placeContent: "center",
    textAlign: "center",
    gap: 1,
    border: `1px dashed ${tokens.hairline}`,
    bgcolor: tokens.sky,
  },
} as const;

const NONE: Catalogue = { figures: [], flown_by: [], earned: {}, standings: [], needed: [] };
type Panel = "figure" | "side" | "day" | "load" | "place";

/** The evening before: what is flown, from what height, and what it costs. */
export function PlanStage({ work, selected, select, move }: StageProps) {
  const { answer, draft, change } = work;
  // The strip follows the hand, and so do the fields that are typed into; the rest is drawn when the hand leaves time for it.
  const calm = useDeferredValue(work);
  const person = useOutletContext<Person>();
  const editable = work.sortie.may.plan;
  // In one column the picture comes first; on a phone it is only read: a finger on it scrolls, heights are typed.
  const small = useMediaQuery(ONE_COLUMN);
  const phone = useMediaQuery(PHONE);
  const [adding, setAdding] = useState(false);
  const [panel, setPanel] = useState<Panel>("figure");
  const catalogue = useCatalogue();
  const figure = answer.figures.find((f) => f.id === selected) ?? null;
  const planned = draft.plan.figures.find((f) => f.id === selected) ?? null;
  const starts = useMemo(
    () => new Map(draft.plan.figures.map((f) => [f.id, f.start_ft])),
    [draft.plan.figures],
  );
  const { look, failed } = useCloser(
    work.sortie.id,
    draft,
    figure ? selected : null,
    panel === "figure" || panel === "side",
  );
  const fit = useFit(work, editable);
  const onStart = useCallback(
    (id: string, feet: number, gesture: string) => change(editFigure(id, { start_ft: feet }), gesture),
    [change],
  );
  const onPlace = useCallback(
    (id: string, to: number, gesture: string) => change(placeFigure(id, to), gesture),
    [change],
  );
  const at = draft.plan.figures.findIndex((f) => f.id === selected);
  const raise = (by: number) => {
    if (editable && planned) onStart(planned.id, Math.max(0, planned.start_ft + by), `keys ${planned.id}`);
  };
  const again = (mirrored: boolean) => {
    if (!editable || !planned) return;
    const id = freshId(
      draft.plan.figures.map((f) => f.id),
      "f",
    );
    change(repeatFigure(planned.id, id, mirrored));
    select(id);
  };
  const remove = () => {
    if (editable && planned) {
      change(removeFigure(planned.id));
      const next = draft.plan.figures[at + 1] ?? draft.plan.figures[at - 1];
      if (next) select(next.id);
    }
  };
  const onAdd = useCallback(() => setAdding(true), []);
  const onAgain = useStable(again),
    onRemove = useStable(remove),
    onFit = useStable(fit.ask);
  const onShow = useCallback(
    (id: string) => {
      select(id);
      setPanel("figure");
    },
    [select],
  );
  const onOverride = useCallback(
    (check: Check, reason: string) => change(override(check, reason, person.name)),
    [change, person.name],
  );
  const onWithdraw = useCallback(
    (check: string) =>
      change(editPlan((plan) => ({ ...plan, overrides: plan.overrides.filter((o) => o.check !== check) }))),
    [change],
  );
  const calmFigure = calm.answer.figures.find((f) => f.id === selected) ?? null;
  useCommands({
    add: () => {
      if (editable) setAdding(true);
    },
    fit: () => fit.ask(),
    repeat: () => again(false),
    mirror: () => again(true),
    remove: remove,
    higher: () => raise(50),
    lower: () => raise(-50),
    earlier: () => {
      if (editable && planned) onPlace(planned.id, at - 1, "");
    },
    later: () => {
      if (editable && planned) onPlace(planned.id, at + 1, "");
    },
  });
  const sequence = (
    <Box sx={styles.sequence} tabIndex={-1}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        Sequence{" "}
        <Box component="span" sx={narrow}>
          <WhyNumber answer={answer.minutes} />, {draft.plan.figures.length} figures
        </Box>
      </Typography>
      <SequenceList
        work={calm}
        selected={selected}
        select={select}
        editable={editable}
        onAdd={onAdd}
        onAgain={onAgain}
        onRemove={onRemove}
        onPlace={onPlace}
      />
      <SetUps
        surprises={draft.plan.surprises}
        drawn={calm.stale ? null : calm.answer.drawn}
        editable={editable}
        onChange={(surprises) => change(editPlan((plan) => ({ ...plan, surprises })))}
      />
    </Box>
  );
  return (
    <Box sx={styles.page}>
      {!small && sequence}
      <Box sx={styles.middle}>
        <Box sx={styles.head}>
          <Typography variant="h2" sx={{ whiteSpace: "nowrap" }}>
            Height to spend
          </Typography>
          {figure && <Deciding figure={figure} />}
          <Box sx={styles.headEnd}>
            {work.stale === "computing" && (
              <Typography role="status" sx={styles.computing}>
                computing…
              </Typography>
            )}
            {editable && draft.plan.figures.length > 0 && (
              <Button size="small" variant="outlined" onClick={fit.ask} sx={{ minHeight: 30, py: 0 }}>
                Fit it
                <Key of="fit" />
              </Button>
            )}
          </Box>
        </Box>
        {draft.plan.figures.length === 0 ? (
          <NoFigures editable={editable} onAdd={() => setAdding(true)} />
        ) : (
          <HeightStrip
            answer={answer}
            starts={starts}
            selected={selected}
            onSelect={select}
            onStart={editable && !phone ? onStart : undefined}
            onPlace={editable && !phone ? onPlace : undefined}
            ghost={fit.found?.answer}
          />
        )}
        {small && sequence}
        {fit.open ? (
          <FitPanel fit={fit} work={work} />
        ) : (
          <Paper sx={styles.panel}>
            <Tabs
              variant="scrollable"
              allowScrollButtonsMobile
              value={panel}
              onChange={(_, v: Panel) => setPanel(v)}
              sx={styles.tabs}
            >
              <Tab value="figure" label={figure?.title ?? "Figure"} />
              <Tab value="side" label="Side view and what if" />
              <Tab value="day" label="Day" />
              <Tab value="load" label="Aircraft and load" />
              <Tab value="place" label="Place" />
            </Tabs>
            <Box sx={styles.panelContent} tabIndex={-1}>
              {panel === "day" && <DayPanel work={work} editable={editable} />}
              {panel === "load" && <LoadPanel work={work} editable={editable} />}
              {panel === "place" && (
                <PlacePanel work={work} editable={editable} selected={selected} onSelect={select} />
              )}
              {panel === "figure" && planned && (
                <FigurePanel
                  planned={planned}
                  figure={calmFigure}
                  look={look}
                  answer={calm.answer}
                  catalogue={catalogue.data ?? NONE}
                  change={change}
                  editable={editable}
                />
              )}
              {panel === "side" && calmFigure && (
                <SidePanel figure={calmFigure} look={look} failed={failed} answer={calm.answer} />
              )}
              {(panel === "figure" || panel === "side") && !planned && (
                <Typography sx={{ color: tokens.slate }}>No figure yet. Add one with the key a.</Typography>
              )}
            </Box>
          </Paper>
        )}
      </Box>
      <Box sx={column.aside} tabIndex={-1}>
        <ChecksColumn
          answer={calm.answer}
          stale={calm.stale}
          onSelect={onShow}
          onFit={editable && answer.stops > 0 ? onFit : undefined}
          onOverride={editable ? onOverride : undefined}
          onWithdraw={editable ? onWithdraw : undefined}
        />
      </Box>
      {editable && (
        <Box sx={column.onward}>
          <Button
            fullWidth
            variant="contained"
            sx={{ minHeight: 48 }}
            disabled={work.stale !== null || answer.stops > 0 || draft.plan.figures.length === 0}
            onClick={() => move("planned", "brief")}
          >
            {work.stale
              ? "Brief when the heights are computed"
              : answer.stops > 0
                ? `Brief when the ${answer.stops > 1 ? "stops are" : "stop is"} cleared`
                : "Brief"}
          </Button>
        </Box>
      )}
      {adding && catalogue.data && (
        <AddFigure
          figures={catalogue.data.figures}
          work={work}
          after={selected}
          onClose={() => setAdding(false)}
          onAdded={select}
        />
      )}
    </Box>
  );
}

/** The numbers that decide about the chosen figure. */
function Deciding({ figure }: { figure: FigureAnswer }) {
  const spare = figure.start.value - figure.lowest_start.value;
  return (
    <Box sx={styles.below}>
      <span>
        lowest start{" "}
        <WhyNumber
          main
          answer={figure.lowest_start}
          sx={{ fontSize: 20, color: spare < 0 ? tokens.stop : tokens.ink }}
        />
      </span>
      <span>
        my controls <WhyNumber answer={figure.take_over} sx={{ color: tokens.mindInk }} />
      </span>
    </Box>
  );
}

function NoFigures({ editable, onAdd }: { editable: boolean; onAdd: () => void }) {
  return (
    <Box sx={styles.empty}>
      <Typography sx={{ fontWeight: 680 }}>No figure yet: all the height is still yours.</Typography>
      {editable && (
        <Button variant="contained" onClick={onAdd} sx={{ justifySelf: "center" }}>
          Add a figure
          <Key of="add" pale />
        </Button>
      )}
    </Box>
  );
}
