import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useState } from "react";
import { api } from "../api/client";
import { useSession } from "../session/useSession";
import { dayAndTime } from "../frame/dates";
import { Empty, Loading, Trouble } from "../frame/states";
import { tokens } from "../theme";

const styles = {
  letter: { borderTop: `1px solid ${tokens.hairline}`, py: 1.2 },
  text: { whiteSpace: "pre-wrap", overflowWrap: "anywhere", fontSize: 14.5 },
} as const;

/** In the demo letters are not sent: here they are read as they would have gone out. */
export function Letters() {
  const kept = useSession().data?.letters_kept ?? false;
  const [open, setOpen] = useState(false);
  if (!kept) return null;
  return (
    <>
      <Button onClick={() => setOpen(true)}>Letters of the demo</Button>
      {open && <LettersDialog onClose={() => setOpen(false)} />}
    </>
  );
}

function LettersDialog({ onClose }: { onClose: () => void }) {
  const found = api.useQuery("get", "/api/letters");
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="letters-title">
      <DialogTitle id="letters-title">Letters that would have gone out</DialogTitle>
      <DialogContent>
        {found.isPending && <Loading what="the letters" />}
        {found.isError && <Trouble error={found.error} />}
        {found.data?.letters.length === 0 && <Empty>None yet. Ask somebody in who has an e-mail.</Empty>}
        {found.data?.letters.map((letter) => (
          <Box key={letter.at + letter.to} component="article" sx={styles.letter}>
            <Typography sx={{ fontWeight: 650 }}>
              To {letter.to}, {dayAndTime(letter.at)}: {letter.subject}
            </Typography>
            <Box sx={styles.text}>{letter.text}</Box>
          </Box>
        ))}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
