import { Box, Dialog, DialogContent, DialogTitle, Typography } from "@mui/material";
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
