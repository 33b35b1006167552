import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  TextField,
  Typography,
} from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, server } from "../api/client";
import type { Place, PlaceDocument } from "../api/types";
import { PlanView } from "../charts/PlanView";
import { Trouble } from "../frame/states";
import { NumberField } from "../sortie/plan/NumberField";
import { put } from "./paths";

export const NEW_PLACE: PlaceDocument = {
  name: "",
  elevation_ft: 0,
  block_top_ft: 5000,
  airspace_top_ft: null,
  place_floor_ft: null,
  notes: "",
  latitude_deg: null,
  longitude_deg: null,
  station: null,
  station_elevation_ft: null,
  radius_nm: 3,
  line_name: "",
  line_deg: null,
  fields: [],
};

/** A place: its heights, line and fields, seen from above while they are entered. */
export function PlaceEditor({
  held,
  start,
  onClose,
}: {
  held: Place | null;
  start: PlaceDocument;
  onClose: () => void;
}) {
  const [place, setPlace] = useState(start);
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: () => {
      const body = { version: held?.version ?? 1, place };
      return held
        ? answered(server.PUT("/api/places/{place_id}", { params: { path: { place_id: held.id } }, body }))
        : answered(server.POST("/api/places", { body }));
    },
    onSuccess: () => {
      void queries.invalidateQueries();
      onClose();
    },
  });
  const number = (path: keyof PlaceDocument, label: string, unit: string, optional = false, step = 10) => (
    <NumberField
      label={label}
      unit={unit}
      optional={optional}
      step={step}
      value={(place[path] as number | null | undefined) ?? null}
      placeholder={optional ? "none" : undefined}
      onValue={(v) => setPlace({ ...place, [path]: v })}
    />
  );
  const fields = place.fields ?? [];
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="lg">
      <DialogTitle>{held ? held.place.name : "A new place"}</DialogTitle>
      <DialogContent
        sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", md: "minmax(0, 1fr) 320px" }, gap: 2 }}
      >
        <Box
          sx={{
            display: "grid",
            gap: 1.4,
            gridTemplateColumns: "repeat(3, minmax(0, 1fr))",
            alignContent: "start",
            pt: 1,
          }}
        >
          <TextField
            label="Name"
            value={place.name}
            onChange={(e) => setPlace({ ...place, name: e.target.value })}
            sx={{ gridColumn: "1 / 3" }}
            slotProps={{ htmlInput: { maxLength: 80 } }}
          />
          {number("radius_nm", "Radius", "NM", false, 0.5)}
          {number("elevation_ft", "Ground", "ft")}
          {number("block_top_ft", "Block top", "ft QNH", false, 100)}
          {number("airspace_top_ft", "Airspace above begins", "ft QNH", true, 100)}
          <NumberField
            label="Floor of this place, above ground"
            unit="ft"
            optional
            step={100}
            placeholder="none"
            value={place.place_floor_ft?.value ?? null}
            onValue={(v) =>
              setPlace({
                ...place,
                place_floor_ft:
                  v === null ? null : { value: v, source: "school", ref: `place: ${place.name}` },
              })
            }
          />
          {number("latitude_deg", "Latitude", "° north", true, 0.01)}
          {number("longitude_deg", "Longitude", "° east", true, 0.01)}
          <TextField
            label="Line to hold"
            value={place.line_name ?? ""}
            onChange={(e) => setPlace({ ...place, line_name: e.target.value })}
          />
          {number("line_deg", "Its direction", "° true", true)}
          <TextField
            label="Weather station"
            value={place.station ?? ""}
            onChange={(e) => setPlace({ ...place, station: e.target.value.toUpperCase() || null })}
            slotProps={{ htmlInput: { maxLength: 4 } }}
          />
          {number("station_elevation_ft", "Station elevation", "ft", true)}
          <TextField
            label="Notes"
            multiline
            value={place.notes ?? ""}
            onChange={(e) => setPlace({ ...place, notes: e.target.value })}
            sx={{ gridColumn: "2 / -1" }}
            slotProps={{ htmlInput: { maxLength: 500 } }}
          />
          <Typography variant="h2" sx={{ gridColumn: "1 / -1" }}>
            Forced-landing fields, from the middle of the place
          </Typography>
          {fields.map((field, i) => (
            <Box
              key={i}
              sx={{
                gridColumn: "1 / -1",
                display: "grid",
                gridTemplateColumns: "1.6fr 1fr 1fr 1fr 1fr auto",
                gap: 1,
              }}
            >
              <TextField
                label="Field"
                value={field.name}
                onChange={(e) => setPlace(put(place, `fields.${i}.name`, e.target.value))}
              />
              {(
                [
                  ["bearing_deg", "Bearing", "°"],
                  ["distance_nm", "Distance", "NM"],
                  ["heading_deg", "Land on", "°"],
                  ["length_ft", "Length", "ft"],
                ] as const
              ).map(([name, label, unit]) => (
                <NumberField
                  key={name}
                  label={label}
                  unit={unit}
                  value={field[name]}
                  onValue={(v) => v !== null && setPlace(put(place, `fields.${i}.${name}`, v))}
                />
              ))}
              <Button
                aria-label={`Remove ${field.name}`}
                onClick={() => setPlace({ ...place, fields: fields.filter((_, k) => k !== i) })}
              >
                Remove
              </Button>
            </Box>
          ))}
          <Button
            sx={{ justifySelf: "start" }}
            onClick={() =>
              setPlace({
                ...place,
                fields: [
                  ...fields,
                  {
                    name: `Field ${fields.length + 1}`,
                    bearing_deg: 0,
                    distance_nm: 1,
                    heading_deg: 0,
                    length_ft: 1500,
                  },
                ],
              })
            }
          >
            Add a field
          </Button>
          {save.isError && (
            <Box sx={{ gridColumn: "1 / -1" }}>
              <Trouble error={save.error} />
            </Box>
          )}
        </Box>
        <PlanView place={place} answer={null} windFrom={0} windKt={0} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Leave it as it was</Button>
        <Button
          variant="contained"
          disabled={save.isPending || place.name.trim() === ""}
          onClick={() => save.mutate()}
        >
          Store the place
        </Button>
      </DialogActions>
    </Dialog>
  );
}
