import { Box, Checkbox, FormControlLabel } from "@mui/material";
import type { PlanDocument } from "../../api/types";
import { useBounds } from "../../forms/bounds";
import { NumberField } from "../../forms/NumberField";

const styles = {
  numbers: {
    display: "grid",
    gridTemplateColumns: "repeat(auto-fill, minmax(130px, 1fr))",
    gap: 1.2,
    mt: 1.4,
    "& .MuiFormHelperText-root": { m: 0, mt: "1px", fontSize: 12, lineHeight: 1.15 },
  },
} as const;

export type Day = PlanDocument["day"];
/** Sets part of the day by hand. name: the field whose source that ends. */
export type SetDay = (edit: Partial<Day>, name: string) => void;

export interface DayProps {
  day: Day;
  editable: boolean;
  set: SetDay;
}

/** "METAR XSKA 25 1420Z, stand-in weather service" is "METAR 1420Z" under a field: the whole stands in the report above. */
export function inShort(source: string): string {
  return source.replace(/^METAR \w+ \d\d (\d{4}Z).*$/, "METAR $1").replace("wind at height, ", "");
}

const GIVEN: { label: string; unit: string; field: Field; name: string; step?: number }[] = [
  { label: "QNH", unit: "hPa", field: "qnh_hpa", name: "qnh_hpa" },
  { label: "Temperature", unit: "°C", field: "temperature_c", name: "temperature_c" },
  { label: "Visibility", unit: "SM", field: "visibility_sm", name: "visibility_sm" },
  { label: "Wind from", unit: "°", field: "wind_from_deg", name: "wind_from_deg", step: 10 },
  { label: "Wind", unit: "kt", field: "wind_kt", name: "wind_from_deg" },
];
type Field = "qnh_hpa" | "temperature_c" | "visibility_sm" | "wind_from_deg" | "wind_kt";

/** Every number of the day, with where it came from; one that nobody gave says so. */
export function DayNumbers({ day, editable, set }: DayProps) {
  const from = (name: string, given: boolean) =>
    inShort(day.sources?.[name] ?? (given ? "typed in" : "not given"));
  const bounds = useBounds("plan");
  const base = day.cloud_base_ft ?? null,
    reported = day.sources?.cloud_base_ft !== undefined;
  return (
    <Box sx={styles.numbers}>
      {GIVEN.map(({ label, unit, field, name, step }) => (
        <NumberField
          key={field}
          label={label}
          unit={unit}
          optional
          step={step}
          placeholder="—"
          {...bounds(`day.${field}`)}
          value={day[field] ?? null}
          note={from(name, day[field] != null)}
          disabled={!editable}
          onValue={(v) => set({ [field]: v }, name)}
        />
      ))}
      <NumberField
        label="Gusts"
        unit="kt"
        optional
        placeholder="none"
        disabled={!editable}
        {...bounds("day.gust_kt")}
        value={day.gust_kt ?? null}
        onValue={(v) => set({ gust_kt: v }, "wind_from_deg")}
      />
      <Box>
        <NumberField
          label="Cloud base"
          unit="ft QNH"
          {...bounds("day.cloud_base_ft")}
          value={base}
          optional
          step={100}
          placeholder={day.no_cloud || reported ? "none" : "—"}
          note={from("cloud_base_ft", day.no_cloud || base !== null)}
          disabled={!editable}
          onValue={(v) => set({ cloud_base_ft: v, no_cloud: false }, "cloud_base_ft")}
        />
        {base === null && !reported && (
          <FormControlLabel
            label="No cloud"
            control={
              <Checkbox
                size="small"
                checked={day.no_cloud}
                disabled={!editable}
                onChange={(e) => set({ no_cloud: e.target.checked }, "cloud_base_ft")}
              />
            }
          />
        )}
      </Box>
    </Box>
  );
}
