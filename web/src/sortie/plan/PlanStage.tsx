import { Box, Button, Paper, Tab, Tabs, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { useOutletContext } from "react-router";
import { answered, inOneLine, server } from "../../api/client";
import type { FigureAnswer, Person } from "../../api/types";
import { HeightAccount, planShade } from "../../charts/HeightAccount";
import { SpeedAndG } from "../../charts/SpeedAndG";
import { useKeys } from "../../frame/keys";
import { HeightStrip } from "../../strip/HeightStrip";
import { narrow, tokens } from "../../theme";
import { ChecksColumn } from "../../verdict/ChecksColumn";
import { WhyNumber } from "../../why/WhyNumber";
import { editFigure, editPlan } from "../edits";
import type { StageProps } from "../stage";
import { AddFigure } from "./AddFigure";
import { DayAndLoad } from "./DayAndLoad";
import { FigureSettings } from "./FigureSettings";
import { SequenceList } from "./SequenceList";

/** The evening before: what is flown, from what height, and what it costs. */
export function PlanStage({ work, selected, select, move }: StageProps) {
  const { answer, draft, change, mayEdit } = work;
  const person = useOutletContext<Person>();
  const editable = mayEdit && ["planned", "briefed"].includes(work.sortie.stage);
  const [adding, setAdding] = useState(false);
  const [tab, setTab] = useState<"figure" | "day">("figure");
  const catalogue = useQuery({ queryKey: ["catalogue"], queryFn: () => answered(server.GET("/api/catalogue")), staleTime: Infinity });
  const figure = answer.figures.find((f) => f.id === selected) ?? null;
  const planned = draft.plan.figures.find((f) => f.id === selected) ?? null;
  const starts = useMemo(() => new Map(draft.plan.figures.map((f) => [f.id, f.start_ft])), [draft.plan.figures]);
  useKeys({ a: () => editable && setAdding(true) });
  return (
    <Box sx={{ height: "100%", display: "grid", gridTemplateColumns: { xs: "1fr", md: "212px minmax(0, 1fr) 236px", lg: "250px minmax(0, 1fr) 264px" }, gridTemplateRows: "100%", overflow: { xs: "auto", md: "hidden" } }}>
      <Box sx={{ p: 1.5, overflow: "auto", borderRight: `1px solid ${tokens.hairline}` }}>
        <Typography variant="h2" sx={{ mb: 1 }}>Sequence <Box component="span" sx={narrow}><WhyNumber answer={answer.minutes} />, {draft.plan.figures.length} figures</Box></Typography>
        <SequenceList work={work} selected={selected} select={select} editable={editable} onAdd={() => setAdding(true)} />
      </Box>
      <Box sx={{ p: 1.5, minWidth: 0, display: "grid", gridTemplateRows: "auto minmax(170px, 1fr) auto", gap: 1, minHeight: { xs: 700, md: 0 }, overflow: "hidden" }}>
        <Box sx={{ display: "flex", alignItems: "baseline", gap: 2, minWidth: 0 }}>
          <Typography variant="h2">Height to spend</Typography>
          {figure && <Deciding figure={figure} />}
          {work.computing && <Typography role="status" sx={{ fontSize: 12.5, color: tokens.slate }}>computing…</Typography>}
        </Box>
        <HeightStrip answer={answer} starts={starts} selected={selected} onSelect={select} onStart={editable ? (id, feet, gesture) => change(editFigure(id, { start_ft: feet }), gesture) : undefined} />
        <Paper sx={{ border: `1px solid ${tokens.hairline}`, height: 306, overflow: "hidden", display: "flex", flexDirection: "column" }}>
          <Tabs value={tab} onChange={(_, v: "figure" | "day") => setTab(v)} sx={{ minHeight: 38, borderBottom: `1px solid ${tokens.hairline}`, "& .MuiTab-root": { minHeight: 38, py: 0, textTransform: "none", fontWeight: 660 } }}>
            <Tab value="figure" label={figure?.title ?? "Figure"} />
            <Tab value="day" label="Day, aircraft and load" />
          </Tabs>
          <Box sx={{ p: 1.5, overflow: "auto", flex: 1 }}>
            {work.refusal.length > 0 && <Typography role="alert" sx={{ color: tokens.stop, fontSize: 13.5, mb: 1 }}>{work.refusal.map(inOneLine).join(" ")}</Typography>}
            {tab === "day" && <DayAndLoad work={work} editable={editable} />}
            {tab === "figure" && planned && (
              <Box sx={{ display: "grid", gridTemplateColumns: "minmax(0, 0.95fr) minmax(0, 1.15fr) minmax(0, 1fr)", gap: 2 }}>
                <FigureSettings planned={planned} figure={figure} catalogue={catalogue.data?.figures ?? []} change={change} editable={editable} unit={work.answer.envelope.speed_unit} />
                {figure ? <Account figure={figure} /> : <Typography sx={{ color: tokens.stop }}>This aircraft's card cannot say what this figure costs.</Typography>}
                {figure && <Box><Typography variant="h2" component="h3">Speed and g</Typography><SpeedAndG figure={figure} answer={answer} /></Box>}
              </Box>
            )}
            {tab === "figure" && !planned && <Typography sx={{ color: tokens.slate }}>No figure yet. Add one with the key a.</Typography>}
          </Box>
        </Paper>
      </Box>
      <Box sx={{ p: 1.5, overflow: "auto", borderLeft: `1px solid ${tokens.hairline}`, display: "flex", flexDirection: "column" }}>
        <ChecksColumn answer={answer} onSelect={select}
          onOverride={editable ? (check, reason) => change(editPlan((plan) => ({ ...plan, overrides: [...plan.overrides, { check, reason, by: person.name }] }))) : undefined} />
        {editable && (
          <Box sx={{ position: "sticky", bottom: -12, zIndex: 2, bgcolor: tokens.paper, pt: 1, pb: 1.5, mt: "auto" }}>
            <Button fullWidth variant="contained" sx={{ minHeight: 48 }} disabled={answer.stops > 0 || draft.plan.figures.length === 0} onClick={() => move("planned", "brief")}>
              {answer.stops > 0 ? `Brief when the ${answer.stops > 1 ? "stops are" : "stop is"} cleared` : "Brief"}
            </Button>
          </Box>
        )}
      </Box>
      {adding && catalogue.data && <AddFigure figures={catalogue.data.figures} work={work} after={selected} onClose={() => setAdding(false)} onAdded={select} />}
    </Box>
  );
}

/** The numbers that decide about the chosen figure. */
function Deciding({ figure }: { figure: FigureAnswer }) {
  const spare = figure.start.value - figure.lowest_start.value;
  return (
    <Box sx={{ ...narrow, fontSize: 14, whiteSpace: "nowrap", overflow: "hidden", textOverflow: "ellipsis", color: tokens.slate, display: "flex", gap: 1.5, alignItems: "baseline" }}>
      <span>start at or above <WhyNumber main answer={figure.lowest_start} sx={{ fontSize: 20, color: spare < 0 ? tokens.stop : tokens.ink }} /></span>
      <span>my controls <WhyNumber answer={figure.take_over} sx={{ color: tokens.mindInk }} /> if {figure.take_over_words}</span>
    </Box>
  );
}

function Account({ figure }: { figure: FigureAnswer }) {
  const bars = figure.account.map((line, i) => ({ ...line, colour: planShade(i, figure.account.length) }));
  return (
    <Box>
      <Typography variant="h2" component="h3" sx={{ mb: 0.5 }}>Where the height goes</Typography>
      <HeightAccount bars={bars} totals={[["Likely loss", figure.likely], ["19 times in 20 within", figure.worst], ["Lowest start", figure.lowest_start], ...(figure.turns_allowed ? [["Turns allowed from here", figure.turns_allowed] as [string, typeof figure.likely]] : [])]} />
    </Box>
  );
}
