import { Box } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useForm, useWatch, type FieldValues } from "react-hook-form";
import { answered, server } from "../api/client";
import type { FieldSpec, Place, PlaceDocument } from "../api/types";
import { PlanView } from "../charts/PlanView";
import { EditorDialog, problemsOf } from "../forms/EditorDialog";
import { filled } from "../forms/fill";
import { Sections } from "../forms/Sections";

const styles = {
  halves: { display: "grid", gridTemplateColumns: { xs: "1fr", md: "minmax(0, 1fr) 320px" }, gap: 2 },
} as const;

interface Props {
  held: Place | null;
  start: Partial<PlaceDocument>;
  fields: FieldSpec[];
  onClose: () => void;
}

/** A place: its heights, line and fields, seen from above while they are entered. */
export function PlaceEditor({ held, start, fields, onClose }: Props) {
  const { control, handleSubmit, formState } = useForm<FieldValues>({ defaultValues: start });
  const typed = useWatch({ control });
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: (place: PlaceDocument) => {
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
  const store = handleSubmit((place) => save.mutate(filled(place, fields) as PlaceDocument));
  return (
    <EditorDialog
      title={held ? held.place.name : "A new place"}
      what="the place"
      error={save.error}
      in_="place"
      fields={fields}
      storing={save.isPending}
      changed={formState.isDirty}
      ready={Boolean((typed as Partial<PlaceDocument>).name?.trim())}
      onStore={() => void store()}
      onClose={onClose}
    >
      <Box sx={styles.halves}>
        <Box>
          <Sections
            fields={fields}
            control={control}
            problems={problemsOf(save.error)}
            in_="place"
            columns={3}
          />
        </Box>
        <PlanView place={seen(typed)} answer={null} windFrom={null} windKt={null} />
      </Box>
    </EditorDialog>
  );
}

/** The place as far as it is typed. */
function seen(typed: Partial<PlaceDocument>): PlaceDocument {
  const fields = (typed.fields ?? []).map((f) => ({
    name: f.name ?? "",
    bearing_deg: f.bearing_deg ?? 0,
    distance_nm: f.distance_nm ?? 0,
    heading_deg: f.heading_deg ?? 0,
    length_ft: f.length_ft ?? 0,
  }));
  return {
    name: "",
    notes: "",
    line_name: "",
    elevation_ft: 0,
    block_top_ft: 0,
    ...typed,
    radius_nm: typed.radius_nm ?? 3,
    fields,
  };
}
