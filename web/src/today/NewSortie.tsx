import { Button, Dialog, DialogActions, DialogContent, DialogTitle, MenuItem, TextField, Typography } from "@mui/material";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { answered, server } from "../api/client";
import { Trouble } from "../frame/states";

/** A student, an aircraft, a place and a time; the lesson's figures and heights are laid out by the core. */
export function NewSortie({ onClose, studentId }: { onClose: () => void; studentId?: number }) {
  const students = useQuery({ queryKey: ["students"], queryFn: () => answered(server.GET("/api/students")) });
  const fleet = useQuery({ queryKey: ["aircraft"], queryFn: () => answered(server.GET("/api/aircraft")) });
  const places = useQuery({ queryKey: ["places"], queryFn: () => answered(server.GET("/api/places")) });
  const catalogue = useQuery({ queryKey: ["catalogue"], queryFn: () => answered(server.GET("/api/catalogue")), staleTime: Infinity });
  const [chosen, setChosen] = useState({ student: studentId ?? 0, aircraft: 0, place: 0, lesson: "spins_both_ways", at: localNow() });
  const queries = useQueryClient();
  const navigate = useNavigate();
  const make = useMutation({
    mutationFn: () => answered(server.POST("/api/sorties", { body: { student_id: chosen.student, aircraft_id: chosen.aircraft, place_id: chosen.place, lesson: chosen.lesson, planned_for: new Date(chosen.at).toISOString() } })),
    onSuccess: (sortie) => {
      void queries.invalidateQueries({ queryKey: ["today"] });
      void navigate(`/sorties/${sortie.id}/plan`);
      onClose();
    },
  });
  const pick = (label: string, value: number, key: "student" | "aircraft" | "place", options: [number, string][]) => (
    <TextField select label={label} value={value || ""} onChange={(e) => setChosen({ ...chosen, [key]: Number(e.target.value) })}>
      {options.map(([id, words]) => <MenuItem key={id} value={id}>{words}</MenuItem>)}
    </TextField>
  );
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <DialogTitle>Plan a sortie</DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 2, pt: "8px !important" }}>
        {pick("Student", chosen.student, "student", (students.data ?? []).map((s) => [s.id, `${s.name}, ${s.stage}`]))}
        <TextField select label="Lesson" value={chosen.lesson} onChange={(e) => setChosen({ ...chosen, lesson: e.target.value })}>
          {(catalogue.data?.lessons ?? [{ key: "spins_both_ways", name: "Spins, both ways" }]).map((l) => <MenuItem key={l.key} value={l.key}>{l.name}</MenuItem>)}
        </TextField>
        {pick("Aircraft", chosen.aircraft, "aircraft", (fleet.data ?? []).map((a) => [a.id, `${a.registration} ${a.card.name}`]))}
        {pick("Place", chosen.place, "place", (places.data ?? []).map((p) => [p.id, p.place.name]))}
        <TextField label="Day and time" type="datetime-local" value={chosen.at} onChange={(e) => setChosen({ ...chosen, at: e.target.value })} slotProps={{ inputLabel: { shrink: true } }} />
        {make.isPending && <Typography role="status">Laying out the figures and computing their heights…</Typography>}
        {make.isError && <Trouble error={make.error} />}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Not now</Button>
        <Button variant="contained" disabled={!chosen.student || !chosen.aircraft || !chosen.place || !chosen.at || make.isPending} onClick={() => make.mutate()}>Plan</Button>
      </DialogActions>
    </Dialog>
  );
}

function localNow(): string {
  const at = new Date(Date.now() + 3600_000);
  at.setMinutes(0, 0, 0);
  return new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
}
