import { DateTimePicker } from "@mui/x-date-pickers/DateTimePicker";
import { LocalizationProvider } from "@mui/x-date-pickers/LocalizationProvider";
import { AdapterLuxon } from "@mui/x-date-pickers/AdapterLuxon";
import { DateTime, Settings } from "luxon";
import { useState } from "react";

interface Props {
  label: string;
  /** As ISO; empty for none yet. */ value: string;
  /** Called with what can be taken only: a whole day and time within reach. */ onValue: (
    iso: string,
  ) => void;
  /** The school's now, as ISO: what is too far from it is not taken. */ now: string;
  help?: string;
}

const REACH = { days_back: 31, days_on: 366 };
const WHY: Record<string, string> = {
  invalidDate: "This is not a whole day and time.",
  minDate: "This is more than a month ago.",
  maxDate: "This is more than a year ahead.",
};

/** A day and a time, day month year and 24 hours, in the school's zone. Years that nobody means are not taken. */
export function WhenField({ label, value, onValue, now, help }: Props) {
  const [wrong, setWrong] = useState<string | null>(null);
  const today = DateTime.fromISO(now).startOf("day");
  return (
    <LocalizationProvider dateAdapter={AdapterLuxon} adapterLocale="en-GB">
      <DateTimePicker
        label={label}
        ampm={false}
        format="dd LLL yyyy HH:mm"
        timezone={Settings.defaultZone.name}
        minutesStep={5}
        value={value === "" ? null : DateTime.fromISO(value)}
        minDateTime={today.minus({ days: REACH.days_back })}
        maxDateTime={today.plus({ days: REACH.days_on })}
        onError={(error) => setWrong(error)}
        onChange={(next, { validationError }) => {
          if (next?.isValid && validationError === null) onValue(next.toUTC().toISO() ?? "");
        }}
        slotProps={{
          textField: {
            size: "small",
            fullWidth: true,
            helperText: wrong === null ? help : (WHY[wrong] ?? "This day and time cannot be taken."),
          },
        }}
      />
    </LocalizationProvider>
  );
}
