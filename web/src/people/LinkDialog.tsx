import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { api } from "../api/client";
import type { LinkMade, PersonLine } from "../api/types";
import { Trouble } from "../frame/states";
import { usePeopleAgain } from "./usePeopleAgain";

const styles = { content: { display: "grid", gap: 2, pt: "8px !important" } } as const;

interface Props {
  person: PersonLine;
  /** The link, once it is made. */ made?: LinkMade;
  onClose: () => void;
  onLink: (made: LinkMade) => void;
}

/** A link into somebody's account: made on request, shown once, to be handed over or sent. */
export function LinkDialog({ person, made, onClose, onLink }: Props) {
  const [copied, setCopied] = useState(false);
  const making = api.useMutation(
    "post",
    "/api/people/{person_id}/link",
    usePeopleAgain<LinkMade>((found) => {
      onClose();
      onLink(found);
    }),
  );
  const copy = (link: string) => void navigator.clipboard?.writeText(link).then(() => setCopied(true));
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="link-title">
      <DialogTitle id="link-title">A way in for {person.name}</DialogTitle>
      <DialogContent sx={styles.content}>
        <Typography>
          The link opens once, for three days: whoever has it sets a password and is in as {person.name}. Hand
          it to nobody else. One that was made before does not open any more.
        </Typography>
        {made && (
          <>
            <TextField
              label="Link"
              value={made.link}
              multiline
              slotProps={{ htmlInput: { readOnly: true } }}
            />
            {made.words && <Typography role="status">{made.words}</Typography>}
          </>
        )}
        {making.isError && <Trouble error={making.error} />}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        {made ? (
          <Button variant="contained" onClick={() => copy(made.link)}>
            {copied ? "Copied" : "Copy the link"}
          </Button>
        ) : (
          <Button
            variant="contained"
            disabled={making.isPending}
            onClick={() => making.mutate({ params: { path: { person_id: person.id } } })}
          >
            Make the link
          </Button>
        )}
      </DialogActions>
    </Dialog>
  );
}
