import {
  Box,
  FormControlLabel,
  MenuItem,
  Switch,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
} from "@mui/material";
import type { Catalogue, FigureAnswer, FlownBy, PlannedFigure } from "../../api/types";
import { editFigure } from "../edits";
import type { SortieWork } from "../useSortie";
import { sourceWords } from "../../why/source";
import { useBounds } from "../../forms/bounds";
import { NumberField } from "../../forms/NumberField";

const styles = {
  settings: {
    display: "grid",
    gridTemplateColumns: "1fr 1fr",
    gap: 1.1,
    alignContent: "start",
    "& .MuiToggleButton-root": { minHeight: 38, flex: 1, py: 0 },
  },
  switch: { m: 0, "& .MuiFormControlLabel-label": { fontSize: 13, lineHeight: 1.15 } },
} as const;

interface Props {
  planned: PlannedFigure;
  figure: FigureAnswer | null;
  catalogue: Catalogue;
  change: SortieWork["change"];
  editable: boolean;
  unit: string;
}

/** Everything that can be set about one figure. */
export function FigureSettings({ planned, figure, catalogue, change, editable, unit }: Props) {
  const bounds = useBounds("plan");
  const kind = catalogue.figures.find((f) => f.key === planned.key);
  const set = (edit: Partial<PlannedFigure>, gesture?: string) =>
    change(editFigure(planned.id, edit), gesture);
  const typing = (what: string) => `type ${planned.id} ${what}`;
  const value = (name: string, usual: number) => planned.parameters?.[name] ?? usual;
  /** What is left empty and can be found is taken out of the plan. */
  const setParameter = (name: string, v: number | null, found: boolean) => {
    if (v === null && !found) return;
    const others = Object.entries(planned.parameters ?? {}).filter(([other]) => other !== name);
    set({ parameters: Object.fromEntries(v === null ? others : [...others, [name, v]]) }, typing(name));
  };
  const numbers = kind?.parameters.filter((p) => !p.switch) ?? [],
    switches = kind?.parameters.filter((p) => p.switch) ?? [];
  const schools = kind?.schools ?? [];
  const manual = figure?.of_the_manual ? figure : null;
  const offered = schools.filter((s) => s.taught || s.key === manual?.school_key);
  return (
    <Box sx={styles.settings} key={planned.id}>
      <NumberField
        label="Start"
        unit="ft"
        {...bounds("figures.start_ft")}
        value={planned.start_ft}
        step={50}
        disabled={!editable}
        onValue={(v) => v !== null && set({ start_ft: v }, typing("start"))}
      />
      <NumberField
        label="Entry"
        unit={unit}
        {...bounds("figures.entry_ias")}
        value={planned.entry_ias ?? null}
        optional
        disabled={!editable}
        placeholder={figure ? figure.entry.number : ""}
        onValue={(v) => set({ entry_ias: v }, typing("entry"))}
      />
      {numbers.map((p) => (
        <NumberField
          key={p.name}
          label={p.label}
          unit={p.unit === "turns" || p.unit === "" ? undefined : p.unit}
          least={p.least}
          most={p.most}
          value={p.found ? (planned.parameters?.[p.name] ?? null) : value(p.name, p.usual)}
          step={p.unit === "g" || p.unit === "" ? 0.1 : p.unit === "turns" ? 0.5 : 5}
          optional={p.found}
          placeholder={p.found ? figure?.closes_with?.number : undefined}
          disabled={!editable}
          onValue={(v) => setParameter(p.name, v, p.found)}
        />
      ))}
      {kind?.has_sides && (
        <ToggleButtonGroup
          exclusive
          value={planned.side}
          disabled={!editable}
          aria-label="Side"
          onChange={(_, side: "left" | "right" | null) => side && set({ side })}
          sx={{ gridColumn: numbers.length % 2 ? undefined : "1 / -1" }}
        >
          <ToggleButton value="left">Left</ToggleButton>
          <ToggleButton value="right">Right</ToggleButton>
        </ToggleButtonGroup>
      )}
      {switches.map((p) => (
        <FormControlLabel
          key={p.name}
          label={p.label}
          sx={styles.switch}
          control={
            <Switch
              size="small"
              checked={value(p.name, p.usual) >= 0.5}
              disabled={!editable}
              onChange={(e) =>
                set({ parameters: { ...planned.parameters, [p.name]: e.target.checked ? 1 : 0 } })
              }
            />
          }
        />
      ))}
      <TextField
        select
        label="Who flies"
        value={planned.flown_by}
        disabled={!editable}
        onChange={(e) => set({ flown_by: e.target.value as FlownBy })}
        sx={{ gridColumn: "1 / -1" }}
      >
        {catalogue.flown_by.map((who) => (
          <MenuItem key={who} value={who}>
            {who}
          </MenuItem>
        ))}
      </TextField>
      {offered.length > 0 && (
        <TextField
          select
          label={manual ? `Recovery: ${sourceWords(manual.school_from)} wins` : "Recovery method"}
          value={manual?.school_key ?? planned.school ?? figure?.school_key ?? offered[0]?.key ?? ""}
          disabled={!editable || manual !== null}
          onChange={(e) => set({ school: e.target.value })}
          sx={{ gridColumn: "1 / -1" }}
        >
          {offered.map(({ key, name }) => (
            <MenuItem key={key} value={key}>
              {name}
            </MenuItem>
          ))}
        </TextField>
      )}
    </Box>
  );
}
