import { Box } from "@mui/material";
import type { BookedSortie } from "../api/types";
import { day, time } from "../frame/dates";
import { tokens } from "../theme";
import { VerdictMark } from "../verdict/VerdictMark";
import { CANCELLED, STAGES, styles } from "./boardStyles";
import type { By } from "./spot";

interface BarProps {
  sortie: BookedSortie;
  by: By;
  chosen: boolean;
  /** Whether there is room for more than the name. */ long: boolean;
  style: React.CSSProperties;
  onPointerDown: (e: React.PointerEvent) => void;
  onFocus: () => void;
  onKeyDown: (e: React.KeyboardEvent) => void;
}

/** One booking, as long as it is. */
export function Bar({ sortie: s, by, chosen, long, style, ...on }: BarProps) {
  const with_ = by === "aircraft" ? (s.instructor.split(" ")[0] ?? "") : s.aircraft;
  const state = s.cancelled === null ? s.stage : "cancelled";
  const short = shortName(s.student);
  const words = `${short} ${with_}, ${day(s.begins)} ${time(s.begins)} to ${time(s.ends)}, ${s.student}, ${s.lesson_name}, ${s.aircraft}, ${s.instructor}, ${state}`;
  return (
    <Box
      component="button"
      type="button"
      aria-label={words}
      aria-pressed={chosen}
      title={words}
      data-booking={s.id}
      sx={{
        ...styles.bar,
        ...(s.cancelled === null ? STAGES[s.stage] : CANCELLED),
        ...(chosen ? { boxShadow: `0 0 0 2px ${tokens.ink}` } : {}),
        ...(s.may_book && s.cancelled === null ? { cursor: "grab", touchAction: "none" } : {}),
      }}
      style={style}
      onClick={(e: React.MouseEvent) => e.stopPropagation()}
      {...on}
    >
      {s.clashes.length > 0 && <VerdictMark verdict="stop" size={13} />}
      <b>{short}</b>
      {long && (
        <Box component="span" sx={styles.with}>
          {" "}
          {with_}
        </Box>
      )}
      {s.may_book && s.cancelled === null && <Box data-end sx={styles.end} />}
    </Box>
  );
}

/** "Petra L." */
function shortName(name: string): string {
  const [given, ...rest] = name.split(" ");
  const last = rest.at(-1);
  return last ? `${given} ${last.charAt(0)}.` : name;
}
