import { Box, MenuItem, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { answered, server } from "../../api/client";
import type { PlanDocument } from "../../api/types";
import { WhyNumber } from "../../why/WhyNumber";
import { editPlan } from "../edits";
import type { SortieWork } from "../useSortie";
import { NumberField } from "./NumberField";

/** What the day, the aircraft, the place and the load do to every figure. */
export function DayAndLoad({ work, editable }: { work: SortieWork; editable: boolean }) {
  const { draft, change, answer } = work;
  const fleet = useQuery({ queryKey: ["aircraft"], queryFn: () => answered(server.GET("/api/aircraft")) });
  const places = useQuery({ queryKey: ["places"], queryFn: () => answered(server.GET("/api/places")) });
  const aircraft = fleet.data?.find((a) => a.id === draft.aircraft_id);
  const { day, load } = draft.plan;
  const set = (edit: Partial<PlanDocument>, what: string) => change(editPlan((plan) => ({ ...plan, ...edit })), `type ${what}`);
  const setDay = (edit: Partial<PlanDocument["day"]>, what: string) => set({ day: { ...day, ...edit } }, what);
  const setLoad = (edit: Partial<PlanDocument["load"]>, what: string) => set({ load: { ...load, ...edit } }, what);
  const number = (v: number | null, take: (v: number) => void) => v !== null && take(v);
  const seats = aircraft?.card.balance.seats;
  const chooseAircraft = (id: number) => {
    const tanks = fleet.data?.find((a) => a.id === id)?.card.balance.tanks ?? [];
    const fuel = Object.fromEntries(tanks.filter((t) => t.feeds_aerobatics).map((t) => [t.name, Math.round(t.usable_usgal * 7) / 10]));
    change((d) => ({ ...d, aircraft_id: id, plan: { ...d.plan, load: { ...d.plan.load, fuel_usgal: fuel }, figures: d.plan.figures.map((f) => ({ ...f, entry_ias: null })) } }));
  };
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "repeat(4, minmax(0, 1fr))", gap: 1.2 }}>
      <TextField select label="Aircraft" value={fleet.data ? draft.aircraft_id : ""} disabled={!editable} onChange={(e) => chooseAircraft(Number(e.target.value))}>
        {(fleet.data ?? []).map((a) => <MenuItem key={a.id} value={a.id}>{a.registration} {a.card.name}</MenuItem>)}
      </TextField>
      <TextField select label="Place" value={places.data ? draft.place_id : ""} disabled={!editable} onChange={(e) => change((d) => ({ ...d, place_id: Number(e.target.value) }))}>
        {(places.data ?? []).map((p) => <MenuItem key={p.id} value={p.id}>{p.place.name}</MenuItem>)}
      </TextField>
      <NumberField label="My own floor" unit="ft QNH" value={draft.plan.own_floor_ft ?? null} optional step={100} placeholder="none" disabled={!editable} onValue={(v) => set({ own_floor_ft: v }, "floor")} />
      <Typography sx={{ fontSize: 13.5, alignSelf: "center" }}>Weight <WhyNumber answer={answer.weight} />, Va <WhyNumber answer={answer.manoeuvring} />, climb <WhyNumber answer={answer.climb} /></Typography>
      <NumberField label={seats ? `${seats[0]?.name} seat` : "First seat"} unit="lb" value={load.front_lb} disabled={!editable} onValue={(v) => number(v, (n) => setLoad({ front_lb: n }, "front"))} />
      <NumberField label={seats ? `${seats[1]?.name} seat` : "Second seat"} unit="lb" value={load.rear_lb} disabled={!editable} onValue={(v) => number(v, (n) => setLoad({ rear_lb: n }, "rear"))} />
      <NumberField label="Baggage" unit="lb" value={load.baggage_lb} disabled={!editable} onValue={(v) => number(v, (n) => setLoad({ baggage_lb: n }, "baggage"))} />
      {(aircraft?.card.balance.tanks ?? []).map((tank) => (
        <NumberField key={tank.name} label={`Fuel, ${tank.name}`} unit="US gal" value={load.fuel_usgal?.[tank.name] ?? 0} disabled={!editable}
          onValue={(v) => number(v, (n) => setLoad({ fuel_usgal: { ...load.fuel_usgal, [tank.name]: n } }, tank.name))} />
      ))}
      <NumberField label="QNH" unit="hPa" value={day.qnh_hpa} disabled={!editable} onValue={(v) => number(v, (n) => setDay({ qnh_hpa: n }, "qnh"))} />
      <NumberField label="Temperature" unit="°C" value={day.temperature_c} disabled={!editable} onValue={(v) => number(v, (n) => setDay({ temperature_c: n }, "temperature"))} />
      <NumberField label="Wind from" unit="°" value={day.wind_from_deg} step={10} disabled={!editable} onValue={(v) => number(v, (n) => setDay({ wind_from_deg: n }, "wind from"))} />
      <NumberField label="Wind" unit="kt" value={day.wind_kt} disabled={!editable} onValue={(v) => number(v, (n) => setDay({ wind_kt: n }, "wind"))} />
      <NumberField label="Visibility" unit="SM" value={day.visibility_sm} disabled={!editable} onValue={(v) => number(v, (n) => setDay({ visibility_sm: n }, "visibility"))} />
      <NumberField label="Cloud base" unit="ft QNH" value={day.cloud_base_ft ?? null} optional step={100} placeholder="none" disabled={!editable} onValue={(v) => setDay({ cloud_base_ft: v }, "cloud")} />
    </Box>
  );
}
