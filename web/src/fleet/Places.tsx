import { Box, Button, Paper, Typography } from "@mui/material";
import type { Place, PlaceDocument } from "../api/types";
import { PlanView } from "../charts/PlanView";
import { offerJson } from "../frame/files";
import { narrow, tokens } from "../theme";
import { TakeFile } from "./TakeFile";

const styles = {
  head: { display: "flex", alignItems: "center", mb: 1 },
  place: { border: `1px solid ${tokens.hairline}`, p: 1.5, mb: 1 },
} as const;

interface Props {
  places: Place[];
  chief: boolean;
  onEdit: (held: Place | null, start: Partial<PlaceDocument>) => void;
  onFailed: (error: unknown) => void;
}

/** The places, each seen from above. */
export function Places({ places, chief, onEdit, onFailed }: Props) {
  return (
    <>
      <Box sx={styles.head}>
        <Typography variant="h1" component="h2" sx={{ flex: 1 }}>
          Places
        </Typography>
        {chief && <Button onClick={() => onEdit(null, {})}>Add</Button>}
        {chief && (
          <TakeFile label="Import a place" onTaken={(found) => onEdit(null, found)} onFailed={onFailed} />
        )}
      </Box>
      {places.map((held) => (
        <OnePlace key={held.id} held={held} chief={chief} onEdit={onEdit} />
      ))}
    </>
  );
}

function OnePlace({ held, chief, onEdit }: { held: Place; chief: boolean; onEdit: Props["onEdit"] }) {
  const { place } = held;
  return (
    <Paper sx={styles.place}>
      <Box sx={{ display: "flex", alignItems: "center" }}>
        <Typography sx={{ fontWeight: 700, flex: 1 }}>{place.name}</Typography>
        {chief && (
          <Button size="small" onClick={() => onEdit(held, place)} aria-label={`Change ${place.name}`}>
            Change
          </Button>
        )}
        <Button
          size="small"
          onClick={() => offerJson(`place-${held.id}.json`, place)}
          aria-label={`Export ${place.name}`}
        >
          Export
        </Button>
      </Box>
      <Typography sx={narrow}>
        Ground {place.elevation_ft.toLocaleString("en")} ft, block top{" "}
        {place.block_top_ft.toLocaleString("en")} ft QNH
        {place.station && `, reports of ${place.station}`}
      </Typography>
      <Typography sx={{ fontSize: 13.5, color: tokens.slate }}>{place.notes}</Typography>
      <PlanView place={place} answer={null} windFrom={null} windKt={null} />
    </Paper>
  );
}
