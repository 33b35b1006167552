import { Box, Checkbox, FormControlLabel, Switch, TextField, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Controller, useForm, useWatch, type Control, type FieldValues } from "react-hook-form";
import { answered, server } from "../api/client";
import type { Aircraft, Card, FieldSpec, Figure } from "../api/types";
import { EditorDialog, problemsOf } from "../forms/EditorDialog";
import { blankPart, filled } from "../forms/fill";
import { Sections } from "../forms/Sections";
import { NumberField } from "../forms/NumberField";
import { tokens } from "../theme";

const styles = {
  card: {
    display: "grid",
    gridTemplateColumns: { xs: "1fr 1fr", md: "repeat(4, minmax(0, 1fr))" },
    gap: 1.2,
    pt: 1,
  },
  approvals: {
    display: "grid",
    gridTemplateColumns: { xs: "1fr", sm: "repeat(3, minmax(0, 1fr))" },
    columnGap: 2,
  },
  approval: { flex: 1, mr: 0, "& .MuiFormControlLabel-label": { fontSize: 13.5 } },
} as const;

export interface CardStart {
  registration: string;
  card: Card;
  packed: string | null;
}

interface Props {
  aircraft: Aircraft | null;
  start: CardStart;
  fields: FieldSpec[];
  figures: Figure[];
  onClose: () => void;
  onStored: (id: number) => void;
}

/** An aircraft's card, every number with its source. What contradicts itself, and what the model cannot be fitted to, is
 * said at the number, and nothing is stored until it is right. */
export function CardEditor({ aircraft, start, fields, figures, onClose, onStored }: Props) {
  const [registration, setRegistration] = useState(start.registration);
  const [packed, setPacked] = useState(start.packed ?? "");
  const { control, handleSubmit, formState } = useForm<FieldValues>({ defaultValues: start.card });
  const spin = useWatch({ control, name: "spin" }) as Card["spin"],
    speedUnit = useWatch({ control, name: "speed_unit" }) as string;
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: (card: Card) => {
      const version = aircraft?.version ?? 1;
      const body = { version, registration, card, parachutes_packed_on: packed || null };
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
  const problems = problemsOf(save.error);
  const shared = { control, problems, in_: "card", speedUnit };
  const shown = fields.filter((f) => !["section", "by figure"].includes(f.enter));
  const store = handleSubmit((card) => save.mutate(filled(card, fields) as unknown as Card));
  return (
    <EditorDialog
      title={aircraft ? `${aircraft.registration} ${aircraft.card.name}` : "A new aircraft"}
      what="the card"
      error={save.error}
      in_="card"
      fields={fields}
      storing={save.isPending}
      changed={formState.isDirty || registration !== start.registration || packed !== (start.packed ?? "")}
      ready={registration.trim().length >= 2}
      onStore={() => void store()}
      onClose={onClose}
    >
      <Box sx={styles.card}>
        <TextField
          label="Registration"
          value={registration}
          onChange={(e) => setRegistration(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 12 } }}
        />
        <TextField
          label="Parachutes packed"
          type="date"
          value={packed}
          onChange={(e) => setPacked(e.target.value)}
          slotProps={{ inputLabel: { shrink: true } }}
        />
      </Box>
      <Sections {...shared} fields={shown.filter((f) => f.within === "")} />
      {fields
        .filter((f) => f.enter === "section")
        .map((section) => (
          <Box component="section" key={section.path} aria-label={`${section.label} section`}>
            <Controller
              name={section.path}
              control={control}
              render={({ field: { value, onChange } }) => (
                <FormControlLabel
                  label={`The manual has a ${section.label.toLowerCase()} section`}
                  control={
                    <Switch
                      checked={value != null}
                      onChange={(e) => onChange(e.target.checked ? blankPart(fields, section.path) : null)}
                    />
                  }
                />
              )}
            />
            {spin != null && (
              <Sections {...shared} fields={shown.filter((f) => f.within === section.path)} columns={2} />
            )}
          </Box>
        ))}
      {fields
        .filter((f) => f.enter === "by figure")
        .map((field) => (
          <ByFigure key={field.path} field={field} control={control} figures={figures} unit={speedUnit} />
        ))}
    </EditorDialog>
  );
}

type Approved = Card["approved"];

interface ByFigureProps {
  field: FieldSpec;
  control: Control<FieldValues>;
  figures: Figure[];
  unit: string;
}

/** Which figures, and the manual's entry speed where it gives one. */
function ByFigure({ field, control, figures, unit }: ByFigureProps) {
  return (
    <Controller
      name={field.path}
      control={control}
      render={({ field: { value, onChange } }) => {
        const approved = (value ?? {}) as Approved;
        const approve = (key: string, on: boolean) =>
          onChange(
            on
              ? { ...approved, [key]: null }
              : Object.fromEntries(Object.entries(approved).filter(([k]) => k !== key)),
          );
        return (
          <Box component="section" aria-label={field.label}>
            <Typography variant="h2">{field.label}</Typography>
            <Box sx={styles.approvals}>
              {figures.map((f) => (
                <Approval
                  key={f.key}
                  figure={f}
                  on={f.key in approved}
                  stated={approved[f.key] ?? null}
                  unit={unit}
                  onApprove={(on) => approve(f.key, on)}
                  onStated={(entry) => onChange({ ...approved, [f.key]: entry })}
                />
              ))}
            </Box>
          </Box>
        );
      }}
    />
  );
}

interface ApprovalProps {
  figure: Figure;
  on: boolean;
  stated: Approved[string];
  unit: string;
  onApprove: (on: boolean) => void;
  onStated: (entry: Approved[string]) => void;
}

const LINE = {
  display: "flex",
  alignItems: "center",
  gap: 0.5,
  borderBottom: `1px solid ${tokens.hairline}`,
};

function Approval({ figure, on, stated, unit, onApprove, onStated }: ApprovalProps) {
  return (
    <Box sx={LINE}>
      <FormControlLabel
        sx={styles.approval}
        label={figure.name}
        control={<Checkbox size="small" checked={on} onChange={(e) => onApprove(e.target.checked)} />}
      />
      {on && (
        <Box sx={{ width: 84, "& .MuiInputBase-input": { py: "4px" } }}>
          <NumberField
            label=""
            aria={`Entry speed, ${figure.name}`}
            optional
            placeholder={unit}
            value={stated?.value ?? null}
            onValue={(value) =>
              onStated(
                value === null
                  ? null
                  : { value, source: stated?.source ?? "not given", ref: stated?.ref ?? "" },
              )
            }
          />
        </Box>
      )}
    </Box>
  );
}
