import { Box, Dialog, DialogContent, DialogTitle, Typography } from "@mui/material";
import { RULES } from "../forms/numbers";
import { byPlace, type Command } from "./commands";
import { Cap } from "./Key";

export function Help({ onClose }: { onClose: () => void }) {
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md">
      <DialogTitle>Help</DialogTitle>
      <DialogContent tabIndex={0}>
        <Box sx={{ columns: { xs: 1, sm: 2, md: 3 }, columnGap: 3 }}>
          {byPlace().map(([where, commands]) => (
            <Keys key={where} where={where} commands={commands} />
          ))}
        </Box>
        <Typography variant="h2" sx={{ mt: 1 }}>
          Words
        </Typography>
        <Box component="dl" sx={WORDS_LIST}>
          {GLOSSARY.map(([word, meaning]) => (
            <Box key={word} sx={{ breakInside: "avoid", mb: 0.6 }}>
              <Box component="dt" sx={{ fontWeight: 680 }}>
                {word}
              </Box>
              <Box component="dd" sx={{ m: 0 }}>
                {meaning}
              </Box>
            </Box>
          ))}
        </Box>
        <Typography variant="h2" sx={{ mt: 1 }}>
          Numbers
        </Typography>
        {RULES.map((rule) => (
          <Typography key={rule}>{rule}</Typography>
        ))}
        <Typography sx={{ mt: 1 }}>
          Every number with a dotted line under it answers "why?". Stop is an octagon, mind a diamond, fine a
          ring with a tick.
        </Typography>
        <Typography sx={{ mt: 1 }}>
          Keel Turn advises and records; it does not grant and does not replace the flight manual, the rules
          or your instructor.
        </Typography>
        <Typography variant="h2" sx={{ mt: 1 }}>
          Keel Turn&apos;s flight model
        </Typography>
        {MODEL.map((line) => (
          <Typography key={line}>{line}</Typography>
        ))}
      </DialogContent>
    </Dialog>
  );
}

const GLOSSARY: [string, string][] = [
  ["Gate", "How a figure is entered: height, speed, power, attitude, g."],
  [
    "Floor",
    "Level flight is reached above it, whatever happens. The strictest of rule, school, place and your own.",
  ],
  [
    "Lowest start",
    "The lowest height from which the figure keeps the floor 19 times in 20, and the instructor's recovery 99 times in 100.",
  ],
  ["19 times in 20", "Of twenty such students on such a day, nineteen lose no more than this."],
  [
    "Own numbers",
    "Where this student's debriefed attempts lie among a hundred pilots of the population, and what the next one is likely to lose.",
  ],
  [
    "My controls",
    "The height at which the instructor takes over: from there the instructor's own recovery still keeps the floor.",
  ],
  ["Standing", "How far a student has come; what may be flown follows from it."],
  ["Method", "A way to recover, step by step. The flight manual's wins where it has one."],
  ["Stage", "Where a sortie is: planned, briefed, flown, debriefed, signed."],
];
const MODEL = [
  "Each figure is flown from its gate to level flight with the lift, drag and thrust that the aircraft's card gives, in today's air and at today's weight; a spin by the card's own turns and heights.",
  "The usual pilot gives the likely loss, a population of pilots the 19 times in 20. The population is common practice, no published source.",
  "It leaves out sideslip and gusts, a spin's oscillations, and every pilot beyond its population. It is no promise that a real spin stops.",
];
const WORDS_LIST = { columns: { xs: 1, sm: 2 }, columnGap: 3, m: 0 };
const LIST = { display: "grid", gridTemplateColumns: "max-content 1fr", gap: "4px 12px", m: 0, mb: 1.5 };

function Keys({ where, commands }: { where: string; commands: Command[] }) {
  return (
    <Box component="section" sx={{ breakInside: "avoid" }}>
      <Typography variant="h2">{where}</Typography>
      <Box component="dl" sx={LIST}>
        {commands.map(({ shown, words }) => [
          <dt key={shown}>
            <Cap>{shown}</Cap>
          </dt>,
          <Box component="dd" key={words} sx={{ m: 0 }}>
            {words}
          </Box>,
        ])}
      </Box>
    </Box>
  );
}
