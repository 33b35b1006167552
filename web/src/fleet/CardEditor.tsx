import {
  Alert,
  Box,
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  MenuItem,
  Switch,
  TextField,
  Typography,
} from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, Failed, inOneLine, server } from "../api/client";
import type { Aircraft, Card, Figure } from "../api/types";
import { Trouble } from "../frame/states";
import { NumberField } from "../sortie/plan/NumberField";
import { tokens } from "../theme";
import { EMPTY_SPIN, GROUPS, SPIN } from "./cardFields";
import { put } from "./paths";
import { EditRows, unplaced } from "./StatedRows";

interface Props {
  aircraft: Aircraft | null;
  start: { registration: string; card: Card; packed: string | null };
  figures: Figure[];
  onClose: () => void;
  onStored: (id: number) => void;
}

/** An aircraft's card, every number with its source. What contradicts itself is said at the number, and nothing is stored until it is right. */
export function CardEditor({ aircraft, start, figures, onClose, onStored }: Props) {
  const [registration, setRegistration] = useState(start.registration);
  const [card, setCard] = useState(start.card);
  const [packed, setPacked] = useState(start.packed ?? "");
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: () => {
      const body = {
        version: aircraft?.version ?? 1,
        registration,
        card,
        parachutes_packed_on: packed || null,
      };
      return aircraft
        ? answered(
            server.PUT("/api/aircraft/{aircraft_id}", {
              params: { path: { aircraft_id: aircraft.id } },
              body,
            }),
          )
        : answered(server.POST("/api/aircraft", { body }));
    },
    onSuccess: (stored) => {
      void queries.invalidateQueries();
      onStored(stored.id);
      onClose();
    },
  });
  const problems = save.error instanceof Failed ? save.error.problems : [];
  const groups = card.spin ? [...GROUPS, SPIN] : GROUPS;
  const elsewhere = unplaced(
    problems,
    groups.flatMap((g) => g[1]),
    "card.",
  );
  const unit = card.speed_unit;
  const tanks = card.balance.tanks;
  const approve = (key: string, on: boolean) =>
    setCard({
      ...card,
      approved: on
        ? { ...card.approved, [key]: null }
        : Object.fromEntries(Object.entries(card.approved).filter(([k]) => k !== key)),
    });
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="lg">
      <DialogTitle>
        {aircraft ? `${aircraft.registration} ${aircraft.card.name}` : "A new aircraft"}
      </DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 2 }}>
        {problems.length > 0 && (
          <Alert severity="error" sx={{ position: "sticky", top: 0, zIndex: 2 }}>
            Not stored: {problems.length === 1 ? "one number does" : `${problems.length} numbers do`} not
            agree. The card in the fleet is as it was.
            {elsewhere.map((p) => (
              <div key={p.where + p.what}>{inOneLine(p)}</div>
            ))}
          </Alert>
        )}
        {save.isError && !(save.error instanceof Failed) && <Trouble error={save.error} />}
        <Box sx={{ display: "grid", gridTemplateColumns: "repeat(5, minmax(0, 1fr))", gap: 1.2, pt: 1 }}>
          <TextField
            label="Registration"
            value={registration}
            onChange={(e) => setRegistration(e.target.value)}
            slotProps={{ htmlInput: { maxLength: 12 } }}
          />
          <TextField
            label="Type"
            value={card.name}
            onChange={(e) => setCard({ ...card, name: e.target.value })}
            slotProps={{ htmlInput: { maxLength: 60 } }}
          />
          <TextField
            select
            label="Category"
            value={card.category}
            onChange={(e) => setCard({ ...card, category: e.target.value as Card["category"] })}
          >
            {["normal", "utility", "aerobatic"].map((c) => (
              <MenuItem key={c} value={c}>
                {c}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            label="Speeds in"
            value={unit}
            onChange={(e) => setCard({ ...card, speed_unit: e.target.value as Card["speed_unit"] })}
          >
            {["kt", "mph"].map((c) => (
              <MenuItem key={c} value={c}>
                {c}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            label="Parachutes packed"
            type="date"
            value={packed}
            onChange={(e) => setPacked(e.target.value)}
            slotProps={{ inputLabel: { shrink: true } }}
          />
        </Box>
        {groups.map(([title, fields]) => (
          <Box component="section" key={title} aria-label={title}>
            <Typography variant="h2">{title}</Typography>
            <EditRows
              document={card}
              fields={fields}
              unit={unit}
              problems={problems}
              prefix="card."
              onChange={setCard}
            />
          </Box>
        ))}
        <Box component="section" aria-label="Seats and tanks">
          <Typography variant="h2" sx={{ mb: 1 }}>
            Seats, baggage and tanks
          </Typography>
          <Box sx={{ display: "grid", gridTemplateColumns: "repeat(4, minmax(0, 1fr))", gap: 1.2 }}>
            {[
              ...card.balance.seats.map((s, i) => [`seats.${i}`, s] as const),
              ["baggage", card.balance.baggage] as const,
            ].map(([path, station]) => (
              <Box key={path} sx={{ display: "contents" }}>
                <TextField
                  label="Name"
                  value={station.name}
                  onChange={(e) => setCard(put(card, `balance.${path}.name`, e.target.value))}
                />
                <NumberField
                  label="Arm"
                  unit="in"
                  value={station.arm_in}
                  onValue={(v) => v !== null && setCard(put(card, `balance.${path}.arm_in`, v))}
                />
                <NumberField
                  label="Most"
                  unit="lb"
                  value={station.most_lb}
                  onValue={(v) => v !== null && setCard(put(card, `balance.${path}.most_lb`, v))}
                />
                <span />
              </Box>
            ))}
            {tanks.map((tank, i) => (
              <Box key={i} sx={{ display: "contents" }}>
                <TextField
                  label="Tank"
                  value={tank.name}
                  onChange={(e) => setCard(put(card, `balance.tanks.${i}.name`, e.target.value))}
                />
                <NumberField
                  label="Arm"
                  unit="in"
                  value={tank.arm_in}
                  onValue={(v) => v !== null && setCard(put(card, `balance.tanks.${i}.arm_in`, v))}
                />
                <NumberField
                  label="Usable"
                  unit="US gal"
                  value={tank.usable_usgal}
                  onValue={(v) => v !== null && setCard(put(card, `balance.tanks.${i}.usable_usgal`, v))}
                />
                <Box>
                  <FormControlLabel
                    label="for figures"
                    control={
                      <Switch
                        size="small"
                        checked={tank.feeds_aerobatics}
                        onChange={(e) =>
                          setCard(put(card, `balance.tanks.${i}.feeds_aerobatics`, e.target.checked))
                        }
                      />
                    }
                  />
                  {tanks.length > 1 && (
                    <Button
                      size="small"
                      onClick={() =>
                        setCard(
                          put(
                            card,
                            "balance.tanks",
                            tanks.filter((_, k) => k !== i),
                          ),
                        )
                      }
                    >
                      Remove
                    </Button>
                  )}
                </Box>
              </Box>
            ))}
          </Box>
          <Button
            onClick={() =>
              setCard(
                put(card, "balance.tanks", [
                  ...tanks,
                  {
                    name: `Tank ${tanks.length + 1}`,
                    arm_in: tanks[0]?.arm_in ?? 0,
                    usable_usgal: 10,
                    feeds_aerobatics: false,
                  },
                ]),
              )
            }
          >
            Add a tank
          </Button>
        </Box>
        <Box component="section" aria-label="Spins">
          <FormControlLabel
            label="The manual has a spin section"
            control={
              <Switch
                checked={card.spin !== null}
                onChange={(e) =>
                  setCard({
                    ...card,
                    spin: e.target.checked
                      ? (start.card.spin ?? (EMPTY_SPIN as unknown as Card["spin"]))
                      : null,
                  })
                }
              />
            }
          />
          {card.spin && (
            <Box sx={{ display: "grid", gap: 1.2, gridTemplateColumns: "1fr 2fr" }}>
              <FormControlLabel
                label="Spins approved"
                control={
                  <Switch
                    checked={card.spin.approved}
                    onChange={(e) => setCard(put(card, "spin.approved", e.target.checked))}
                  />
                }
              />
              <TextField
                label="Where the manual says so"
                value={card.spin.ref ?? ""}
                onChange={(e) => setCard(put(card, "spin.ref", e.target.value))}
              />
              <TextField
                sx={{ gridColumn: "1 / -1" }}
                multiline
                minRows={2}
                label="Recovery as the manual has it, one step a line"
                value={(card.spin.recovery ?? []).join("\n")}
                onChange={(e) =>
                  setCard(
                    put(
                      card,
                      "spin.recovery",
                      e.target.value.split("\n").filter((line) => line.trim() !== ""),
                    ),
                  )
                }
              />
            </Box>
          )}
        </Box>
        <Box component="section" aria-label="Approved figures">
          <Typography variant="h2">
            Approved figures, with the manual's entry speed where it gives one
          </Typography>
          <Box sx={{ display: "grid", gridTemplateColumns: "repeat(3, minmax(0, 1fr))", columnGap: 2 }}>
            {figures.map((f) => {
              const on = f.key in card.approved,
                stated = card.approved[f.key];
              return (
                <Box
                  key={f.key}
                  sx={{
                    display: "flex",
                    alignItems: "center",
                    gap: 0.5,
                    borderBottom: `1px solid ${tokens.hairline}`,
                  }}
                >
                  <FormControlLabel
                    sx={{ flex: 1, mr: 0, "& .MuiFormControlLabel-label": { fontSize: 13.5 } }}
                    label={f.name}
                    control={
                      <Checkbox
                        size="small"
                        checked={on}
                        onChange={(e) => approve(f.key, e.target.checked)}
                      />
                    }
                  />
                  {on && (
                    <Box sx={{ width: 84, "& .MuiInputBase-input": { py: "4px" } }}>
                      <NumberField
                        label=""
                        aria={`Entry speed, ${f.name}`}
                        optional
                        placeholder={unit}
                        value={stated?.value ?? null}
                        onValue={(v) =>
                          setCard({
                            ...card,
                            approved: {
                              ...card.approved,
                              [f.key]:
                                v === null ? null : { source: "flight manual", ref: "", ...stated, value: v },
                            },
                          })
                        }
                      />
                    </Box>
                  )}
                </Box>
              );
            })}
          </Box>
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Leave it as it was</Button>
        <Button
          variant="contained"
          disabled={save.isPending || registration.trim().length < 2}
          onClick={() => save.mutate()}
        >
          Store the card
        </Button>
      </DialogActions>
    </Dialog>
  );
}
