import { Box } from "@mui/material";
import type { Attempt, Catalogue } from "../../api/types";
import { NumberField } from "../../forms/NumberField";
import { LateText } from "../../forms/LateText";
import type { Edits } from "../../notes/entry";
import type { Range } from "../../forms/numbers";
import { WhatBecame, WhoFlew } from "../Went";

interface Props {
  attempt: Attempt;
  catalogue: Catalogue | undefined;
  range: Range;
  editable: boolean;
  edit: (edits: Edits) => void;
}

/** Who flew it and what became of it: none of this is a grade. */
export function Became({ attempt, catalogue, range, editable, edit }: Props) {
  const outcomes = catalogue?.figures.find((f) => f.key === attempt.planned.key)?.outcomes ?? [];
  const who = catalogue?.flown_by ?? [attempt.flown_by];
  return (
    <Box key={attempt.id} sx={{ display: "grid", gap: 1.2 }}>
      <WhoFlew value={attempt.flown_by} who={who} disabled={!editable} edit={edit} />
      <WhatBecame value={attempt.outcome} outcomes={outcomes} disabled={!editable} edit={edit} />
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1.6fr", gap: 1 }}>
        <NumberField
          label="Taken over"
          {...range}
          value={attempt.taken_over_ft ?? null}
          optional
          step={20}
          disabled={!editable}
          onValue={(taken_over_ft) => edit({ taken_over_ft })}
        />
        <LateText
          label="Broken off: why"
          value={attempt.abandoned ?? ""}
          disabled={!editable}
          onValue={(abandoned) => edit({ abandoned: abandoned || null })}
        />
      </Box>
    </Box>
  );
}

/** What became of it in one line; nothing for what went as planned. */
export function became(a: Attempt): string {
  return [
    a.outcome && a.outcome !== "as intended" && a.outcome,
    a.taken_over_ft != null && `taken over at ${a.taken_over_ft.toLocaleString("en")}`,
    a.abandoned && `broken off: ${a.abandoned}`,
    a.skipped && "skipped",
  ]
    .filter(Boolean)
    .join("; ");
}
