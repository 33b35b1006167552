/** Hours and minutes, as they stand in a record: "2 h 05". */
export function hours(minutes: number): string {
  const whole = Math.round(minutes);
  const over = whole % 60;
  return `${Math.floor(whole / 60)} h${over > 0 ? ` ${String(over).padStart(2, "0")}` : ""}`;
}
