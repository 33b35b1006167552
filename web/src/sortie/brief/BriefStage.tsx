import { Box, Button, Checkbox, FormControlLabel, TextField, Typography } from "@mui/material";
import type { FigureAnswer } from "../../api/types";
import { Key } from "../../frame/Key";
import { useKeys } from "../../frame/keys";
import { Empty } from "../../frame/states";
import { narrow, tokens } from "../../theme";
import { WhyNumber } from "../../why/WhyNumber";
import { NotYet, type StageProps } from "../stage";
import { FigurePicture } from "./FigurePicture";
import { KneeCard } from "./KneeCard";

/** The half hour before: one figure a page, then the before-flight list. */
export default function BriefStage({ work, selected, select, move, go }: StageProps) {
  const { answer, draft, change, mayEdit, sortie } = work;
  const at = Math.max(0, answer.figures.findIndex((f) => f.id === selected));
  const figure = answer.figures[at];
  const editable = mayEdit && ["planned", "briefed"].includes(sortie.stage);
  const step = (by: number) => {
    const next = answer.figures[at + by];
    if (next) select(next.id);
  };
  useKeys({ ArrowRight: () => step(1), ArrowLeft: () => step(-1), p: () => window.print() });
  const tick = (key: string, on: boolean) => change((d) => ({ ...d, brief: { ...d.brief, checked: on ? [...d.brief.checked, key] : d.brief.checked.filter((k) => k !== key) } }));
  return (
    <>
      <Box sx={{ height: "100%", display: "grid", gridTemplateColumns: { xs: "1fr", md: "minmax(0, 1fr) 330px" }, overflow: { xs: "auto", md: "hidden" }, "@media print": { display: "none" } }}>
        <Box sx={{ p: 2, overflow: "auto", minWidth: 0 }}>
          {figure ? <FigurePage figure={figure} n={at + 1} of={answer.figures.length} faultsBefore={sortie.earlier_faults[figure.key] ?? []} work={work} step={step} /> : <Empty>The plan has no figures that this aircraft can fly. Go back to Plan and add one.</Empty>}
        </Box>
        <Box sx={{ p: 2, overflow: "auto", borderLeft: `1px solid ${tokens.hairline}`, display: "flex", flexDirection: "column" }}>
          <Typography variant="h2">Before the flight</Typography>
          {sortie.brief_items.map((item) => (
            <Box key={item.key} sx={{ borderBottom: `1px solid ${tokens.hairline}`, py: 0.6 }}>
              <FormControlLabel sx={{ "& .MuiFormControlLabel-label": { fontWeight: 650 } }} label={item.words}
                control={<Checkbox checked={draft.brief.checked.includes(item.key)} disabled={!editable} onChange={(e) => tick(item.key, e.target.checked)} />} />
              <Typography sx={{ fontSize: 13, color: tokens.slate, pl: 3.9, mt: -0.5 }}>{item.detail}</Typography>
            </Box>
          ))}
          <TextField label="Note from the brief" multiline minRows={2} value={draft.brief.note} disabled={!editable} sx={{ mt: 2 }}
            onChange={(e) => change((d) => ({ ...d, brief: { ...d.brief, note: e.target.value } }), "type brief note")} />
          <Box sx={{ display: "flex", gap: 1, mt: 2 }}>
            <Button variant="outlined" onClick={() => window.print()} sx={{ flex: 1 }}>Print the card<Key>p</Key></Button>
            {editable && sortie.stage === "planned" && <Button variant="contained" onClick={() => move("briefed", "fly")} sx={{ flex: 1 }}>Briefed: fly</Button>}
            {sortie.stage !== "planned" && <Button variant="contained" onClick={() => go("fly")} sx={{ flex: 1 }}>Fly</Button>}
          </Box>
          {sortie.stage === "planned" && answer.stops > 0 && <Box sx={{ mt: 2 }}><NotYet work={work} stage="briefed" words="The brief cannot be finished yet." /></Box>}
        </Box>
      </Box>
      <KneeCard work={work} />
    </>
  );
}

function FigurePage({ figure, n, of, faultsBefore, work, step }: { figure: FigureAnswer; n: number; of: number; faultsBefore: string[]; work: StageProps["work"]; step: (by: number) => void }) {
  return (
    <Box component="article" aria-label={figure.title}>
      <Box sx={{ display: "flex", justifyContent: "space-between", alignItems: "center", gap: 2 }}>
        <Typography sx={{ color: tokens.slate, fontWeight: 640 }}>{n} of {of}</Typography>
        <Box>
          <Button disabled={n === 1} onClick={() => step(-1)}>Previous<Key>k</Key></Button>
          <Button disabled={n === of} onClick={() => step(1)}>Next<Key>j</Key></Button>
        </Box>
      </Box>
      <Typography component="h2" sx={{ fontSize: 34, fontWeight: 780, letterSpacing: "-0.015em", lineHeight: 1.1 }}>{figure.title}</Typography>
      <Typography sx={{ fontSize: 18, color: tokens.slate, mb: 1.5 }}>{figure.purpose}</Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: "repeat(4, auto)", justifyContent: "space-between", bgcolor: tokens.sheet, border: `1px solid ${tokens.hairline}`, px: 2, py: 1, mb: 1.5 }}>
        <Big words="Start at" answer={figure.start} note={`not below ${figure.lowest_start.shown}`} />
        <Big words="Enter at" answer={figure.entry} note={figure.power} />
        <Big words="My controls at" answer={figure.take_over} note={`if ${figure.take_over_words}`} colour={tokens.mindInk} />
        <Big words="Floor" answer={work.answer.floor} note="level above this" colour={tokens.stop} />
      </Box>
      <Box sx={{ display: "grid", gridTemplateColumns: "minmax(0, 1.15fr) minmax(0, 1fr)", gap: 2 }}>
        <Box>
          <Typography variant="h2" component="h3">Steps{figure.school && `: ${figure.school.toLowerCase()}`} <Box component="span" sx={{ fontWeight: 400 }}>{figure.school_source.replace("flight manual: ", "")}</Box></Typography>
          <Box component="ol" sx={{ m: 0, mt: 0.5, pl: 3, fontSize: 18.5, lineHeight: 1.4, "& li::marker": { color: tokens.plan, fontWeight: 720 } }}>
            {figure.steps.map((line) => <li key={line}>{line}</li>)}
          </Box>
          <Typography variant="h2" component="h3" sx={{ mt: 1.5 }}>Stop words</Typography>
          {figure.stop_words.map((line) => <Typography key={line} sx={{ fontSize: 16, color: tokens.stop, fontWeight: 620, lineHeight: 1.35 }}>{line}</Typography>)}
        </Box>
        <Box>
          <FigurePicture figure={figure} answer={work.answer} />
          <Typography sx={{ mt: 1 }}><b>Look at:</b> {figure.look_at}</Typography>
          {faultsBefore.length > 0 && <Typography sx={{ mt: 0.5 }}><b>Last time:</b> {faultsBefore.join(", ").toLowerCase()}.</Typography>}
          <Typography variant="h2" component="h3" sx={{ mt: 1 }}>What goes wrong</Typography>
          <Box component="ul" sx={{ m: 0, pl: 2.2, columns: figure.faults.length > 7 ? 2 : 1, fontSize: 13.5, lineHeight: 1.4 }}>
            {figure.faults.map(({ key, words, does }) => <li key={key} title={does}>{words}</li>)}
          </Box>
        </Box>
      </Box>
    </Box>
  );
}

function Big({ words, answer, note, colour }: { words: string; answer: FigureAnswer["start"]; note: string; colour?: string }) {
  return (
    <Box sx={{ minWidth: 0, maxWidth: 210 }}>
      <Typography sx={{ fontSize: 13.5, color: tokens.slate }}>{words}</Typography>
      <WhyNumber answer={answer} sx={{ ...narrow, fontSize: 30, fontWeight: 760, color: colour ?? tokens.ink }} />
      <Typography sx={{ fontSize: 12.5, color: tokens.slate, lineHeight: 1.25 }}>{note}</Typography>
    </Box>
  );
}
