const DAY = new Intl.DateTimeFormat("en-GB", { weekday: "short", day: "numeric", month: "short" });
const TIME = new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit" });

export function day(iso: string): string {
  return DAY.format(new Date(iso)).replace(",", "");
}

export function time(iso: string): string {
  return TIME.format(new Date(iso));
}

export function dayAndTime(iso: string): string {
  return `${day(iso)} ${time(iso)}`;
}
