import { Box, FormControlLabel, MenuItem, Switch, TextField, Typography } from "@mui/material";
import { memo } from "react";
import { useFleet } from "../../api/questions";
import type { PlanDocument } from "../../api/types";
import { LoadEnvelope } from "../../charts/LoadEnvelope";
import { day } from "../../frame/dates";
import { narrow, tokens } from "../../theme";
import { WhyNumber } from "../../why/WhyNumber";
import { editPlan } from "../edits";
import type { SortieWork } from "../useSortie";
import { useBounds } from "../../forms/bounds";
import { NumberField } from "../../forms/NumberField";

const styles = {
  worn: { m: 0, "& .MuiFormControlLabel-label": { fontSize: 13, lineHeight: 1.15 } },
  halves: {
    display: "grid",
    gridTemplateColumns: "minmax(0, 1fr)",

    "@container (min-width: 560px)": { gridTemplateColumns: "minmax(0, 1.25fr) minmax(0, 1fr)" },
    gap: 2,
  },
  entries: {
    display: "grid",
    gridTemplateColumns: "repeat(3, minmax(0, 1fr))",
    "@container (max-width: 359px)": { gridTemplateColumns: "repeat(2, minmax(0, 1fr))" },
    gap: 1.2,
    alignContent: "start",
  },
  packed: { ...narrow, fontSize: 13.5, gridColumn: "1 / -1", color: tokens.slate },
} as const;

/** Who and what is aboard, and where that puts the aircraft from take-off to the end. */
export const LoadPanel = memo(function LoadPanel({
  work,
  editable,
}: {
  work: SortieWork;
  editable: boolean;
}) {
  const { draft, change, answer, sortie } = work;
  const fleet = useFleet();
  const bounds = useBounds("plan");
  const aircraft = fleet.data?.find((a) => a.id === draft.aircraft_id);
  // The card it was planned on, until another aircraft is chosen.
  const card = draft.aircraft_id === sortie.aircraft_id ? sortie.card : aircraft?.card;
  const { load } = draft.plan;
  const set = (edit: Partial<PlanDocument["load"]>, what: string) =>
    change(
      editPlan((plan) => ({ ...plan, load: { ...plan.load, ...edit } })),
      `type load ${what}`,
    );
  const number = (v: number | null, take: (v: number) => void) => v !== null && take(v);
  const seats = card?.balance.seats;
  const chooseAircraft = (id: number) => {
    const fuel = fleet.data?.find((a) => a.id === id)?.usual_fuel_usgal ?? {};
    change((d) => ({
      ...d,
      aircraft_id: id,
      plan: {
        ...d.plan,
        load: { ...d.plan.load, fuel_usgal: fuel },
        figures: d.plan.figures.map((f) => ({ ...f, entry_ias: null })),
      },
    }));
  };
  const seat = (which: "front" | "rear", i: number) => {
    const name = seats?.[i]?.name ?? (i ? "Second" : "First");
    const worn = load[`${which}_parachute_lb`] ?? 0;
    return (
      <Box sx={{ display: "contents" }} key={which}>
        <NumberField
          label={`${name} seat`}
          unit="lb"
          {...bounds(`load.${which}_lb`)}
          value={load[`${which}_lb`]}
          disabled={!editable}
          onValue={(v) => number(v, (n) => set({ [`${which}_lb`]: n }, which))}
        />
        <FormControlLabel
          label={`Parachute, ${name.toLowerCase()}`}
          sx={styles.worn}
          control={
            <Switch
              size="small"
              checked={worn > 0}
              disabled={!editable}
              onChange={(e) =>
                set(
                  { [`${which}_parachute_lb`]: e.target.checked ? (aircraft?.parachute_lb ?? 0) : 0 },
                  `${which} worn ${e.timeStamp}`,
                )
              }
            />
          }
        />
        {worn > 0 ? (
          <NumberField
            label="Its weight"
            unit="lb"
            {...bounds(`load.${which}_parachute_lb`)}
            value={worn}
            disabled={!editable}
            onValue={(v) => number(v, (n) => set({ [`${which}_parachute_lb`]: n }, `${which} chute`))}
          />
        ) : (
          <span />
        )}
      </Box>
    );
  };
  return (
    <Box sx={styles.halves}>
      <Box sx={styles.entries}>
        <TextField
          select
          label="Aircraft"
          value={fleet.data ? draft.aircraft_id : ""}
          disabled={!editable}
          onChange={(e) => chooseAircraft(Number(e.target.value))}
          sx={{ gridColumn: "1 / 3" }}
        >
          {(fleet.data ?? []).map((a) => (
            <MenuItem key={a.id} value={a.id}>
              {a.registration} {a.card.name}
            </MenuItem>
          ))}
        </TextField>
        <NumberField
          label="Baggage"
          unit="lb"
          {...bounds("load.baggage_lb")}
          value={load.baggage_lb ?? 0}
          disabled={!editable}
          onValue={(v) => number(v, (n) => set({ baggage_lb: n }, "baggage"))}
        />
        {seat("front", 0)}
        {seat("rear", 1)}
        {(card?.balance.tanks ?? []).map((tank) => (
          <NumberField
            key={tank.name}
            label={`Fuel, ${tank.name}`}
            least={0}
            most={tank.usable_usgal}
            value={load.fuel_usgal?.[tank.name] ?? 0}
            note={`US gal of ${tank.usable_usgal}, ${tank.feeds_aerobatics ? "for figures" : "not for figures"}`}
            disabled={!editable}
            onValue={(v) =>
              number(v, (n) => set({ fuel_usgal: { ...load.fuel_usgal, [tank.name]: n } }, tank.name))
            }
          />
        ))}
        <Typography sx={styles.packed}>
          Parachutes packed{" "}
          {aircraft?.parachutes_packed_on ? day(aircraft.parachutes_packed_on) : "on a day not on record"}.
          Weight <WhyNumber answer={answer.weight} />, stall <WhyNumber answer={answer.stall} />, Va{" "}
          <WhyNumber answer={answer.manoeuvring} />.
        </Typography>
      </Box>
      {card && <LoadEnvelope card={card} answer={answer} />}
    </Box>
  );
});
