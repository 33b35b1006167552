import { Box, Paper, Table, TableBody, TableCell, TableHead, TableRow, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useSearchParams } from "react-router";
import { answered, server } from "../api/client";
import type { Aircraft } from "../api/types";
import { day } from "../frame/dates";
import { Empty, Loading, Trouble } from "../frame/states";
import { narrow, tokens } from "../theme";
import { VerdictMark } from "../verdict/VerdictMark";
import { sourceWords } from "../why/source";

type Row = [string, { value: number; source: string; ref: string }, string];

/** Aircraft cards with the source of every number, the places, and the school's standards. For reading. */
export default function Fleet() {
  const [search, setSearch] = useSearchParams();
  const fleet = useQuery({ queryKey: ["aircraft"], queryFn: () => answered(server.GET("/api/aircraft")) });
  const places = useQuery({ queryKey: ["places"], queryFn: () => answered(server.GET("/api/places")) });
  const standards = useQuery({ queryKey: ["standards"], queryFn: () => answered(server.GET("/api/standards")) });
  if (fleet.isPending || places.isPending || standards.isPending) return <Loading what="the fleet" />;
  if (fleet.isError || places.isError || standards.isError) return <Trouble error={fleet.error ?? places.error ?? standards.error} again={() => { void fleet.refetch(); void places.refetch(); void standards.refetch(); }} />;
  const chosen = fleet.data.find((a) => String(a.id) === search.get("aircraft")) ?? fleet.data[0];
  return (
    <Box component="main" sx={{ height: "100%", display: "grid", gridTemplateColumns: { xs: "1fr", md: "minmax(0, 1fr) 400px" }, overflow: { xs: "auto", md: "hidden" } }}>
      <Box tabIndex={0} role="region" aria-label="Aircraft cards" sx={{ p: 2.5, overflow: "auto" }}>
        <Typography variant="h1" sx={{ mb: 1.5 }}>Fleet</Typography>
        {fleet.data.length === 0 && <Empty>No aircraft yet.</Empty>}
        <ToggleButtonGroup exclusive value={chosen?.id ?? null} onChange={(_, id: number | null) => id && setSearch({ aircraft: String(id) })} aria-label="Aircraft" sx={{ mb: 2 }}>
          {fleet.data.map((a) => <ToggleButton key={a.id} value={a.id}>{a.registration} {a.card.name}</ToggleButton>)}
        </ToggleButtonGroup>
        {chosen && <CardSheet aircraft={chosen} />}
      </Box>
      <Box tabIndex={0} role="region" aria-label="Places and standards" sx={{ p: 2.5, overflow: "auto", borderLeft: `1px solid ${tokens.hairline}` }}>
        <Typography variant="h1" component="h2" sx={{ mb: 1 }}>Places</Typography>
        {places.data.map(({ id, place }) => (
          <Paper key={id} sx={{ border: `1px solid ${tokens.hairline}`, p: 1.5, mb: 1 }}>
            <Typography sx={{ fontWeight: 700 }}>{place.name}</Typography>
            <Typography sx={narrow}>Ground {place.elevation_ft.toLocaleString("en")} ft, block top {place.block_top_ft.toLocaleString("en")} ft QNH</Typography>
            <Typography sx={{ fontSize: 13.5, color: tokens.slate }}>{place.notes}</Typography>
          </Paper>
        ))}
        <Typography variant="h1" component="h2" sx={{ mt: 2, mb: 1 }}>School standards</Typography>
        <Table size="small" sx={narrow}>
          <TableBody>
            {standardRows(standards.data.standards).map(([words, stated, unit]) => (
              <TableRow key={words}><TableCell sx={{ pl: 0 }}>{words}<Box sx={{ fontSize: 12.5, color: tokens.slate }}>{sourceWords(stated)}</Box></TableCell><TableCell align="right" sx={{ fontWeight: 680, whiteSpace: "nowrap" }}>{stated.value.toLocaleString("en")} {unit}</TableCell></TableRow>
            ))}
          </TableBody>
        </Table>
      </Box>
    </Box>
  );
}

function standardRows(s: Record<string, unknown>): Row[] {
  const stated = (key: string) => s[key] as Row[1];
  const extra = s.stage_extra_ft as Record<string, Row[1]>;
  return [
    ["Regulation floor, above ground", stated("regulation_floor_ft"), "ft"], ["School floor, above ground", stated("school_floor_ft"), "ft"],
    ...Object.entries(extra).map(([stage, v]): Row => [`Added for '${stage}'`, v, "ft"]),
    ["Altimeter and reading allowance", stated("allowance_ft"), "ft"], ["Seconds to decide to leave", stated("decide_s"), "s"], ["Seconds to get out", stated("egress_s"), "s"],
    ["Canopy", stated("canopy_ft"), "ft"], ["Fuel kept", stated("reserve_min"), "min"], ["Least visibility", stated("visibility_sm"), "SM"], ["Kept below cloud", stated("cloud_above_ft"), "ft"],
    ["Parachute repack", stated("parachute_days"), "days"],
  ];
}

function CardSheet({ aircraft }: { aircraft: Aircraft }) {
  const { card } = aircraft;
  const unit = card.speed_unit;
  const spins = card.spin?.approved ?? false;
  const groups: [string, Row[]][] = [
    [`Speeds, IAS at ${card.speeds.reference_lb.value.toLocaleString("en")} lb`, [
      ["Stall, clean", card.speeds.stall_ias, unit], ["Stall, flap", card.speeds.stall_flap_ias, unit], ["Best glide", card.speeds.glide_ias, unit], ["Glide ratio", card.speeds.glide_ratio, ""],
      ["Best climb", card.speeds.climb_ias, unit], ["Climb", card.speeds.climb_fpm, "fpm"], ["Fastest level", card.speeds.level_ias, unit], ["Va", card.speeds.manoeuvring_ias, unit],
      ["Vno", card.speeds.normal_most_ias, unit], ["Vne", card.speeds.never_exceed_ias, unit], ["Vfe", card.speeds.flap_most_ias, unit]]],
    ["Limits", [["Most g", card.limits.most_g, "g"], ["Least g", card.limits.least_g, "g"], ["While rolling", card.limits.rolling_g, "g"], ["With flap", card.limits.flap_g, "g"],
      ["Roll, left", card.roll.left_deg_s, "°/s"], ["Roll, right", card.roll.right_deg_s, "°/s"]]],
    ["Weight", [["Empty", card.balance.empty_lb, "lb"], ["Most, aerobatics", card.balance.aerobatic_most_lb, "lb"], ["Most", card.balance.most_lb, "lb"], ["Forward limit", card.balance.aerobatic_forward_in, "in"],
      ["Aft limit", card.balance.aerobatic_aft_in, "in"], ["Burn, aerobatics", card.balance.aerobatic_burn_usgal_h, "US gal/h"]]],
    ...(card.spin ? [["Spin", [["One turn with recovery", card.spin.one_turn_ft, "ft"], ["Each further turn", card.spin.further_turn_ft, "ft"], ["Seconds a turn", card.spin.turn_s, "s"],
      ["Turns to recover", card.spin.recovery_turns, ""], ["Path when it stops", card.spin.path_down_deg, "° down"], ["Left against right", card.spin.left_factor, "×"], ["Most weight for spins", card.spin.most_lb, "lb"]]] as [string, Row[]]] : []),
  ];
  return (
    <>
      <Box sx={{ display: "flex", gap: 3, flexWrap: "wrap", mb: 1.5, alignItems: "center" }}>
        <Typography sx={{ display: "flex", gap: 1, alignItems: "center", fontWeight: 680 }}><VerdictMark verdict={spins ? "fine" : "stop"} />{spins ? "Spins approved" : "Spins not approved"}</Typography>
        <Typography>{card.category} category</Typography>
        <Typography>Approved: {Object.keys(card.approved).map((k) => k.replace(/_/g, " ")).join(", ")}</Typography>
        <Typography>Parachutes packed {aircraft.parachutes_packed_on ? day(aircraft.parachutes_packed_on) : "not known"}</Typography>
      </Box>
      {card.spin && card.spin.recovery.length > 0 && <Typography sx={{ mb: 1.5 }}><b>Spin recovery of the manual ({card.spin.ref}):</b> {card.spin.recovery.join(" ")}</Typography>}
      <Box sx={{ columns: { xs: 1, lg: 2 }, columnGap: 3 }}>
        {groups.map(([title, rows]) => (
          <Paper key={title} sx={{ border: `1px solid ${tokens.hairline}`, mb: 2, breakInside: "avoid" }}>
            <Table size="small" sx={narrow}>
              <TableHead><TableRow><TableCell>{title}</TableCell><TableCell align="right" /><TableCell>Source</TableCell></TableRow></TableHead>
              <TableBody>
                {rows.map(([words, stated, u]) => <TableRow key={words}><TableCell>{words}</TableCell><TableCell align="right" sx={{ fontWeight: 680, whiteSpace: "nowrap" }}>{stated.value.toLocaleString("en")} {u}</TableCell><TableCell sx={{ color: tokens.slate, fontSize: 12.5 }}>{sourceWords(stated)}</TableCell></TableRow>)}
              </TableBody>
            </Table>
          </Paper>
        ))}
      </Box>
    </>
  );
}
