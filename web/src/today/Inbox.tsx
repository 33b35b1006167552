import { Box, Button, Paper, Typography } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api } from "../api/client";
import { askAgain, useInbox } from "../api/questions";
import type { Waiting } from "../api/types";
import { intoInbox, Stopped } from "../api/upload";
import { dayAndTime } from "../frame/dates";
import { FileZone, type Going } from "../frame/FileZone";
import { Trouble } from "../frame/states";
import { narrow, tokens } from "../theme";

const styles = {
  zone: { display: "grid", gap: 0.8, mb: 2, borderRadius: 1 },
  waits: { border: `1px solid ${tokens.hairline}`, px: 1.5, py: 1 },
  said: { ...narrow, fontSize: 13.5, color: tokens.slate },
  offers: { display: "flex", flexWrap: "wrap", columnGap: 1, alignItems: "center" },
} as const;

/** Recorders' files: read in before it is said of which sortie they are, and offered to the one they fit. */
export function Inbox() {
  const queries = useQueryClient();
  const waiting = useInbox().data ?? [];
  const [going, setGoing] = useState<Going | null>(null);
  const [failed, setFailed] = useState<unknown>(null);
  const asked = () => askAgain(queries, "/api/inbox");
  const send = async (file: File) => {
    setFailed(null);
    const sending = intoInbox(file, (share) => setGoing({ name: file.name, share, stop: sending.stop }));
    setGoing({ name: file.name, share: 0, stop: sending.stop });
    try {
      await sending.done;
      asked();
    } catch (error) {
      if (!(error instanceof Stopped)) setFailed(error);
    } finally {
      setGoing(null);
    }
  };
  return (
    <FileZone
      label="Recordings that wait"
      words="Read a recorder’s file…"
      hint={
        waiting.length > 0
          ? ""
          : "A table, IGC or GPX, dropped here too: it is offered to the sortie it fits."
      }
      may
      going={going}
      onFile={(file) => void send(file)}
      sx={styles.zone}
    >
      <Typography variant="h2" sx={{ lineHeight: "36px" }}>
        {waiting.length > 0 ? `Recordings in no sortie yet: ${waiting.length}` : "Recordings"}
      </Typography>
      {waiting.map((one) => (
        <Waits key={one.id} one={one} onGone={asked} />
      ))}
      {failed !== null && <Trouble error={failed} />}
    </FileZone>
  );
}

function Waits({ one, onGone }: { one: Waiting; onGone: () => void }) {
  const [asks, setAsks] = useState(false);
  const gone = api.useMutation("post", "/api/inbox/{waiting_id}/throw-away", { onSuccess: onGone });
  const when = one.began ? `recorded ${dayAndTime(one.began)} to its clock` : "it does not say when";
  return (
    <Paper sx={styles.waits}>
      <Typography sx={{ fontWeight: 660, overflowWrap: "anywhere" }}>{one.name}</Typography>
      <Typography sx={styles.said}>
        {[when, one.aircraft, `read in by ${one.by}`].filter(Boolean).join(", ")}
      </Typography>
      <Box sx={styles.offers}>
        {one.fits.map((offer) => (
          <Button
            key={offer.sortie_id}
            size="small"
            component={Link}
            to={`/sorties/${offer.sortie_id}/debrief?inbox=${one.id}`}
          >
            Into {offer.student}, {dayAndTime(offer.planned_for)}, {offer.aircraft}
          </Button>
        ))}
        {one.fits.length === 0 && (
          <Typography sx={styles.said}>Fits no briefed sortie of yours; it waits here.</Typography>
        )}
        {asks ? (
          <>
            <Button
              size="small"
              color="error"
              disabled={gone.isPending}
              onClick={() => gone.mutate({ params: { path: { waiting_id: one.id } } })}
            >
              Throw it away for good
            </Button>
            <Button size="small" onClick={() => setAsks(false)}>
              Keep it
            </Button>
          </>
        ) : (
          <Button size="small" onClick={() => setAsks(true)}>
            Throw away…
          </Button>
        )}
      </Box>
      {gone.error != null && <Trouble error={gone.error} />}
    </Paper>
  );
}
