import { askAgain, useGradesAsked, useStandards } from "../api/questions";
import { api } from "../api/client";
import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  MenuItem,
  TextField,
  Typography,
} from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import type { Book, Card, Figure, FigureStandard } from "../api/types";
import { Trouble } from "../frame/states";
import { NumberField } from "../forms/NumberField";
import { tokens } from "../theme";
import { Leaving } from "../forms/EditorDialog";
import { BlockingFields } from "./Blocking";
import { GradingFields } from "./Grading";

const styles = {
  fields: { display: "grid", gap: 2, pt: "8px !important" },
  grades: { border: `1px solid ${tokens.hairline}`, m: 0, minWidth: 0 },
} as const;

/** The chief's gate, floor, method, words, grades and dangerous faults of one figure. */
export function StandardEditor({
  figure,
  book,
  card,
  onClose,
}: {
  figure: Figure;
  book: Book;
  card: Card;
  onClose: () => void;
}) {
  const [standard, setStandard] = useState<FigureStandard>(book.standard);
  const [leaving, setLeaving] = useState(false);
  const leave = () => (standard === book.standard ? onClose() : setLeaving(true));
  const asked = useGradesAsked().data;
  const school = useStandards().data?.standards.grading;
  const queries = useQueryClient();
  const save = api.useMutation("put", "/api/figures/{key}/standard", {
    onSuccess: () => {
      askAgain(queries, "/api/figures/{key}/book", "/api/standards");
      onClose();
    },
  });
  const gate = standard.entry_ias?.[card.name]?.value ?? null;
  const setGate = (value: number | null) => {
    const others = Object.fromEntries(
      Object.entries(standard.entry_ias ?? {}).filter(([name]) => name !== card.name),
    );
    setStandard({
      ...standard,
      entry_ias:
        value === null
          ? others
          : { ...others, [card.name]: { value, source: "school", ref: "the chief's gate for this figure" } },
    });
  };
  const taught = figure.schools.filter((s) => s.taught);
  return (
    <Dialog open onClose={leave} fullWidth maxWidth="md">
      <DialogTitle>{figure.name}: what the school asks</DialogTitle>
      <DialogContent sx={styles.fields}>
        <Typography sx={{ color: tokens.slate }}>
          Empty fields leave the manual's or the catalogue's. Plans made from now on follow; your name and the
          time are kept.
        </Typography>
        <NumberField
          label={`Entry speed in ${card.name}`}
          unit={card.speed_unit}
          optional
          value={gate}
          placeholder={book.answer?.entry.number}
          onValue={setGate}
        />
        <NumberField
          label="Floor above the ground"
          unit="ft"
          optional
          step={100}
          value={standard.floor_ft?.value ?? null}
          placeholder="the school's"
          onValue={(v) =>
            setStandard({
              ...standard,
              floor_ft:
                v === null
                  ? null
                  : { value: v, source: "school", ref: `the chief's floor, ${figure.name.toLowerCase()}` },
            })
          }
        />
        {taught.length > 0 && (
          <TextField
            select
            label="Recovery method"
            value={standard.school ?? ""}
            onChange={(e) => setStandard({ ...standard, school: e.target.value || null })}
          >
            <MenuItem value="">as the instructor chooses</MenuItem>
            {taught.map((s) => (
              <MenuItem key={s.key} value={s.key}>
                {s.name}
              </MenuItem>
            ))}
          </TextField>
        )}
        <TextField
          label="Words to say"
          multiline
          minRows={2}
          value={standard.words ?? ""}
          onChange={(e) => setStandard({ ...standard, words: e.target.value })}
          slotProps={{ htmlInput: { maxLength: 400 } }}
        />
        {asked && (
          <Box component="fieldset" sx={styles.grades}>
            <legend>Grades of this figure</legend>
            <GradingFields
              asked={asked}
              value={standard.grading ?? {}}
              under={school ? [school] : []}
              onChange={(grading) => setStandard({ ...standard, grading })}
            />
          </Box>
        )}
        <Box component="fieldset" sx={styles.grades}>
          <legend>Faults that hold a student back, whatever height they cost</legend>
          <BlockingFields
            faults={figure.faults}
            value={standard.blocking ?? {}}
            onChange={(blocking) => setStandard({ ...standard, blocking })}
          />
        </Box>
        {save.isError && <Trouble error={save.error} />}
      </DialogContent>
      {leaving ? (
        <Leaving onStay={() => setLeaving(false)} onDrop={onClose} />
      ) : (
        <DialogActions>
          <Button onClick={leave}>Leave it as it was</Button>
          <Button
            variant="contained"
            disabled={save.isPending}
            onClick={() =>
              save.mutate({
                params: { path: { key: figure.key } },
                body: { version: book.version, standard },
              })
            }
          >
            Store
          </Button>
        </DialogActions>
      )}
    </Dialog>
  );
}
