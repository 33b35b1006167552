import { useBounds } from "../forms/bounds";
import { NumberField } from "../forms/NumberField";
import type { SortieWork } from "./useSortie";

/** Off the ground to landing: what counts as hours. */
export function MinutesFlown({ work }: { work: SortieWork }) {
  const bounds = useBounds("debrief")("flight_min");
  return (
    <NumberField
      label="In the air"
      unit="min"
      {...bounds}
      value={work.draft.debrief.flight_min ?? null}
      optional
      step={1}
      disabled={!work.sortie.may.save}
      onValue={(flight_min) => work.change((d) => ({ ...d, debrief: { ...d.debrief, flight_min } }))}
    />
  );
}
