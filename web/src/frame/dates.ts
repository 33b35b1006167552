/** Days and times as the school has them: day month year, 24 hours, all in its zone, whatever the machine's own is. */
import { DateTime, Settings } from "luxon";

/** Set once, when the session is known. */
export function inZone(zone: string) {
  Settings.defaultZone = zone;
  Settings.defaultLocale = "en-GB";
}

export function zoneName(): string {
  return Settings.defaultZone.name.replace("_", " ");
}

function at(iso: string): DateTime {
  return DateTime.fromISO(iso);
}

export function day(iso: string): string {
  return at(iso).toFormat("ccc d LLL");
}

export function time(iso: string): string {
  return at(iso).toFormat("HH:mm");
}

export function dayAndTime(iso: string): string {
  return `${day(iso)} ${time(iso)}`;
}

/** With its year: for what is looked up long afterwards. */
export function fullDay(iso: string): string {
  return at(iso).toFormat("d LLL yyyy");
}

export function fullDayAndTime(iso: string): string {
  return `${fullDay(iso)} ${time(iso)}`;
}
