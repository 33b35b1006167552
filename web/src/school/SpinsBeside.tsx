import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Paper,
  Typography,
} from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api, server } from "../api/client";
import { useFleet } from "../api/questions";
import type { Aircraft, SpinBeside } from "../api/types";
import { day } from "../frame/dates";
import { Loading, Trouble } from "../frame/states";
import { narrow, tokens, unseen } from "../theme";

const styles = {
  part: { border: `1px solid ${tokens.hairline}`, p: 1.5 },
  small: { ...narrow, fontSize: 13.5, color: tokens.slate },
  keys: { display: "flex", flexWrap: "wrap", gap: 1, mt: 0.8 },
  row: {
    display: "grid",
    gridTemplateColumns: { xs: "minmax(0, 1fr)", sm: "190px minmax(0, 1fr) 170px" },
    columnGap: 2,
    alignItems: "center",
    py: 0.8,
    borderTop: `1px solid ${tokens.hairline}`,
  },
  track: { position: "relative", height: 26, bgcolor: tokens.sky },
  becomes: { ...narrow, fontSize: 21, fontWeight: 700, lineHeight: 1.1 },
  losses: { display: "grid", gridTemplateColumns: "repeat(4, minmax(0, 1fr))", gap: 1, my: 1 },
  loss: { border: `1px solid ${tokens.hairline}`, p: 1, textAlign: "center" },
} as const;

/** Which cards can be looked at beside what was flown. */
export function SpinsBesideTheirCards() {
  const fleet = useFleet();
  const [open, setOpen] = useState<Aircraft | null>(null);
  const spinning = (fleet.data ?? []).filter((a) => a.card.spin);
  if (spinning.length === 0) return null;
  return (
    <Paper component="section" aria-label="Spins beside their cards" sx={styles.part}>
      <Typography variant="h2">Spins beside their cards</Typography>
      <Typography sx={styles.small}>
        What recorders saw of the turns after the first, and the card as it would be with that.
      </Typography>
      <Box sx={styles.keys}>
        {spinning.map((aircraft) => (
          <Button key={aircraft.id} variant="outlined" onClick={() => setOpen(aircraft)}>
            {aircraft.registration}
          </Button>
        ))}
      </Box>
      {open && <BesideDialog aircraft={open} onClose={() => setOpen(null)} />}
    </Paper>
  );
}

/** What would change of a card, before anybody changes it. */
export function BesideDialog({ aircraft, onClose }: { aircraft: Aircraft; onClose: () => void }) {
  const aircraft_id = aircraft.id;
  const found = api.useQuery("get", "/api/aircraft/{aircraft_id}/spins", {
    params: { path: { aircraft_id } },
  });
  const queries = useQueryClient();
  const save = useMutation({
    // The version that was looked at: somebody else's change since is not written over.
    mutationFn: ({ version, card }: { version: number; card: NonNullable<SpinBeside["card"]> }) => {
      const { registration, parachutes_packed_on } = aircraft;
      const body = { version, registration, card, parachutes_packed_on };
      return answered(server.PUT("/api/aircraft/{aircraft_id}", { params: { path: { aircraft_id } }, body }));
    },
    onSuccess: () => {
      void queries.invalidateQueries();
      onClose();
    },
  });
  const version = found.data?.version;
  const card = found.data?.beside.card;
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md" aria-label={`Spins of ${aircraft.registration}`}>
      <DialogTitle>
        {aircraft.registration} {aircraft.card.name}: recorded spins beside the card
      </DialogTitle>
      <DialogContent>
        {found.isPending && <Loading what="the recorded spins, and flying them again by the card" />}
        {found.isError && <Trouble error={found.error} again={() => void found.refetch()} />}
        {found.data && <Beside found={found.data.beside} />}
        {save.isError && <Trouble error={save.error} />}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>{card ? "Leave the card as it is" : "Close"}</Button>
        {version !== undefined && card && (
          <Button
            variant="contained"
            disabled={save.isPending}
            onClick={() => save.mutate({ version, card })}
          >
            Put it into the card
          </Button>
        )}
      </DialogActions>
    </Dialog>
  );
}

export function Beside({ found }: { found: SpinBeside }) {
  const when = found.first && found.last ? `, ${day(found.first)} to ${day(found.last)}` : "";
  return (
    <>
      <Typography sx={{ fontWeight: 680, fontSize: 17 }}>{found.words}</Typography>
      <Typography sx={{ ...styles.small, mb: 1 }}>
        {found.spins} recorded spins of {found.flights} flights{when}: their turns after the first. How a spin
        is begun and stopped is the pilot&apos;s, and stays as the card has it.
      </Typography>
      {found.numbers.map((one) => (
        <NumberRow key={one.key} one={one} />
      ))}
      {found.losses.length > 0 && (
        <>
          <Typography variant="h2" sx={{ mt: 2 }}>
            What a spin would cost in a plan
          </Typography>
          <Box sx={styles.losses}>
            {found.losses.map((loss) => (
              <Box key={loss.turns} sx={styles.loss}>
                <Box sx={styles.small}>{loss.turns === 1 ? "1 turn" : `${loss.turns} turns`}</Box>
                <Box sx={styles.becomes}>{feet(loss.after_ft)}</Box>
                <Box sx={styles.small}>
                  now {feet(loss.before_ft)} ({signed(loss.after_ft - loss.before_ft)})
                </Box>
              </Box>
            ))}
          </Box>
          <Typography sx={styles.small}>
            The usual student, as loaded and in the air of the last of these flights. These spins cost{" "}
            {signed(found.beyond_before_ft ?? 0)} against that by the card as it is, and{" "}
            {signed(found.beyond_after_ft ?? 0)} by the new one. Plans that are made from then on follow the
            new card; a planned sortie keeps its own until it is taken over. The flight manual&apos;s number
            is never made to cost less.
          </Typography>
        </>
      )}
    </>
  );
}

type Beside = SpinBeside["numbers"][number];

/** The card's number, and where what was flown lies. */
function NumberRow({ one }: { one: Beside }) {
  const ends = [one.card, one.least, one.most, one.becomes ?? one.card];
  const [low, high] = [Math.min(...ends), Math.max(...ends)];
  const share = (value: number) => 8 + ((value - low) / Math.max(1e-9, high - low)) * 84;
  const mark = (value: number, colour: string, top: number) => (
    <Box
      sx={{ position: "absolute", left: `${share(value)}%`, width: 3, top, bottom: top, bgcolor: colour }}
    />
  );
  const is = `${read(one, one.flown)}, between ${read(one, one.least)} and ${read(one, one.most)}`;
  return (
    <Box sx={styles.row}>
      <Box>
        <b>{one.label}</b>
        <Box sx={styles.small}>
          card {read(one, one.card)} ({one.card_from})
        </Box>
      </Box>
      <Box>
        <Box sx={styles.track}>
          <Box
            sx={{
              position: "absolute",
              left: `${share(one.least)}%`,
              width: `${share(one.most) - share(one.least)}%`,
              top: 7,
              bottom: 7,
              bgcolor: tokens.flownPale,
            }}
          />
          {mark(one.flown, tokens.flown, 4)}
          {mark(one.card, tokens.plan, 0)}
          <Box sx={unseen}>{is}</Box>
        </Box>
        <Box sx={styles.small}>flown {is}</Box>
      </Box>
      <Box>
        <Box sx={styles.becomes}>{one.becomes === null ? "stays" : `becomes ${read(one, one.becomes)}`}</Box>
        <Box sx={styles.small}>{one.words}</Box>
      </Box>
    </Box>
  );
}

function read(one: Beside, value: number): string {
  if (one.unit === "ft") return feet(value);
  return one.unit === "s" ? `${value.toFixed(2)} s` : `${value.toFixed(2)} ${one.unit}`;
}

function feet(value: number): string {
  return `${Math.round(value).toLocaleString("en")} ft`;
}

function signed(value: number): string {
  return `${value > 0 ? "+" : value < 0 ? "−" : ""}${feet(Math.abs(value))}`;
}
