import { Box, Dialog, DialogContent, DialogTitle, Typography } from "@mui/material";
import { byPlace } from "./commands";
import { Cap } from "./Key";

export function Help({ onClose }: { onClose: () => void }) {
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>Help</DialogTitle>
      <DialogContent>
        <Box
          component="dl"
          sx={{ display: "grid", gridTemplateColumns: "max-content 1fr", gap: "6px 16px", m: 0 }}
        >
          {byPlace().map(([where, commands]) => [
            <Box component="dt" key={where} sx={{ gridColumn: "1 / -1", fontWeight: 680 }}>
              {where}
            </Box>,
            ...commands.map(({ shown, words }) => [
              <dt key={`${where} ${shown}`}>
                <Cap>{shown}</Cap>
              </dt>,
              <Box component="dd" key={words} sx={{ m: 0 }}>
                {words}
              </Box>,
            ]),
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
