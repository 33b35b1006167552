import { Box } from "@mui/material";
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

/** Every number of the day, with where it came from. */
export function DayNumbers({ day, editable, set }: DayProps) {
  const from = (name: string) => inShort(day.sources?.[name] ?? "typed in");
  const bounds = useBounds("plan");
  const number = (v: number | null, take: (v: number) => void) => v !== null && take(v);
  return (
    <Box sx={styles.numbers}>
      <NumberField
        label="QNH"
        unit="hPa"
        {...bounds("day.qnh_hpa")}
        value={day.qnh_hpa ?? 1013.25}
        note={from("qnh_hpa")}
        disabled={!editable}
        onValue={(v) => number(v, (n) => set({ qnh_hpa: n }, "qnh_hpa"))}
      />
      <NumberField
        label="Temperature"
        unit="°C"
        {...bounds("day.temperature_c")}
        value={day.temperature_c ?? 15}
        note={from("temperature_c")}
        disabled={!editable}
        onValue={(v) => number(v, (n) => set({ temperature_c: n }, "temperature_c"))}
      />
      <NumberField
        label="Visibility"
        unit="SM"
        {...bounds("day.visibility_sm")}
        value={day.visibility_sm ?? 10}
        note={from("visibility_sm")}
        disabled={!editable}
        onValue={(v) => number(v, (n) => set({ visibility_sm: n }, "visibility_sm"))}
      />
      <NumberField
        label="Wind from"
        unit="°"
        {...bounds("day.wind_from_deg")}
        value={day.wind_from_deg ?? 0}
        step={10}
        note={from("wind_from_deg")}
        disabled={!editable}
        onValue={(v) => number(v, (n) => set({ wind_from_deg: n }, "wind_from_deg"))}
      />
      <NumberField
        label="Wind"
        unit="kt"
        {...bounds("day.wind_kt")}
        value={day.wind_kt ?? 0}
        note={from("wind_from_deg")}
        disabled={!editable}
        onValue={(v) => number(v, (n) => set({ wind_kt: n }, "wind_from_deg"))}
      />
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
      <NumberField
        label="Cloud base"
        unit="ft QNH"
        {...bounds("day.cloud_base_ft")}
        value={day.cloud_base_ft ?? null}
        optional
        step={100}
        placeholder="none"
        note={from("cloud_base_ft")}
        disabled={!editable}
        onValue={(v) => set({ cloud_base_ft: v }, "cloud_base_ft")}
      />
    </Box>
  );
}
