import { Box, Dialog, DialogContent, DialogTitle, Typography } from "@mui/material";
import { Key } from "./Key";

const KEYS: [string, string][] = [
  ["1 to 5", "Plan, Brief, Fly, Debrief, Sign"],
  ["j, k", "next and previous figure"],
  ["a", "in Plan: add a figure"],
  ["r, m, Del", "in Plan: repeat, mirror, remove the chosen figure"],
  ["[ ]", "in Plan: chosen figure earlier, later"],
  ["f", "in Plan: fit it, the order and heights that keep every limit"],
  ["w", "why: the working behind the focused number"],
  ["/", "find anything"],
  ["?", "this help"],
  [
    "↑ ↓",
    "in Plan: start of the chosen figure by 50 ft; on its notch with Shift by 10 ft, and ← → for its place",
  ],
  ["Ctrl Z, Ctrl Shift Z", "undo, redo"],
  ["n", "in Today: plan a sortie"],
  ["p", "in Brief: print the card"],
  ["s, g, o, r", "in Debrief: grade Shown, Guided, sOund, solo-Ready"],
];

export function Help({ onClose }: { onClose: () => void }) {
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>Help</DialogTitle>
      <DialogContent>
        <Box
          component="dl"
          sx={{ display: "grid", gridTemplateColumns: "max-content 1fr", gap: "10px 16px", m: 0 }}
        >
          {KEYS.map(([key, words]) => [
            <dt key={key}>
              <Key>{key}</Key>
            </dt>,
            <Box component="dd" key={words} sx={{ m: 0 }}>
              {words}
            </Box>,
          ])}
        </Box>
        <Typography sx={{ mt: 2 }}>
          Every number with a dotted line under it answers "why?". Stop is an octagon, mind a diamond, fine a
          ring with a tick.
        </Typography>
        <Typography sx={{ mt: 1 }}>
          Keel Turn advises and records; it does not grant and does not replace the flight manual, the rules
          or your instructor. Heights are losses of a model and of a population of pilots: docs/model.md says
          what it cannot do.
        </Typography>
      </DialogContent>
    </Dialog>
  );
}
