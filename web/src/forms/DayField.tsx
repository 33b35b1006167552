import { AdapterLuxon } from "@mui/x-date-pickers/AdapterLuxon";
import { DatePicker } from "@mui/x-date-pickers/DatePicker";
import { LocalizationProvider } from "@mui/x-date-pickers/LocalizationProvider";
import { DateTime } from "luxon";

interface Props {
  label: string;
  /** As YYYY-MM-DD; undefined for none. */ value: string | undefined;
  onValue: (day: string | undefined) => void;
  help?: string;
}

/** A day, day month year, or none; what is no whole day is not taken. */
export function DayField({ label, value, onValue, help }: Props) {
  return (
    <LocalizationProvider dateAdapter={AdapterLuxon} adapterLocale="en-GB">
      <DatePicker
        label={label}
        format="dd LLL yyyy"
        value={value === undefined ? null : DateTime.fromISO(value)}
        onChange={(next, { validationError }) => {
          if (next === null) onValue(undefined);
          else if (next.isValid && validationError === null) onValue(next.toISODate() ?? undefined);
        }}
        slotProps={{
          textField: {
            size: "small",
            fullWidth: true,
            helperText: help,
            slotProps: { inputLabel: { shrink: true } },
          },
          field: { clearable: true },
        }}
      />
    </LocalizationProvider>
  );
}
