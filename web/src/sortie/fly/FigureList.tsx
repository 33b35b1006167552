import { Box, Button, MenuItem, TextField } from "@mui/material";
import { useState } from "react";
import type { Attempt, Catalogue, PlannedFigure } from "../../api/types";
import { identity } from "../../api/identity";
import { narrow, tokens } from "../../theme";
import { heightLost } from "../Went";
import type { FlyFigure } from "./figures";

const styles = {
  list: { listStyle: "none", m: 0, p: 0, display: "grid", gap: 0.5 },
  one: {
    width: "100%",
    minHeight: { xs: 64, md: 46 },
    px: 1.5,
    justifyContent: "space-between",
    textAlign: "left",
    color: tokens.ink,
    fontSize: 17,
    border: `1px solid ${tokens.hairline}`,
    "&[aria-current]": { borderColor: tokens.plan, borderWidth: 3 },
  },
  noted: { ...narrow, color: tokens.flown, fontWeight: 720, whiteSpace: "nowrap" },
  add: { display: "grid", gridTemplateColumns: "1fr auto auto", gap: 1, mt: 1.5 },
} as const;

interface ListProps {
  figures: readonly FlyFigure[];
  attempts: readonly Attempt[];
  current: string;
  onChoose: (id: string) => void;
}

/** All figures of the flight, in any order: what is noted of each. */
export function FigureList({ figures, attempts, current, onChoose }: ListProps) {
  return (
    <Box component="ol" aria-label="Figures" sx={styles.list}>
      {figures.map((figure, i) => (
        <li key={figure.planned.id}>
          <Button
            sx={styles.one}
            aria-current={figure.planned.id === current || undefined}
            onClick={() => onChoose(figure.planned.id)}
          >
            <span>
              {i + 1} {figure.title}
            </span>
            <Box component="span" sx={styles.noted}>
              {notedOf(attempts.filter((a) => a.planned.id === figure.planned.id))}
            </Box>
          </Button>
        </li>
      ))}
    </Box>
  );
}

function notedOf(goes: readonly Attempt[]): string {
  return goes
    .map((a) => {
      if (a.skipped) return "skipped";
      if (a.abandoned) return "broken off";
      return heightLost(a) || "…";
    })
    .join("  ");
}

interface AddProps {
  catalogue: Catalogue | undefined;
  start_ft: number;
  onAdd: (planned: PlannedFigure) => void;
}

/** A figure that was not planned is noted too. */
export function AddFigure({ catalogue, start_ft, onAdd }: AddProps) {
  const [key, setKey] = useState("");
  const kind = catalogue?.figures.find((f) => f.key === key);
  if (!catalogue) return null;
  const add = (side: "left" | "right") => {
    onAdd({
      id: `unplanned-${identity().slice(0, 12)}`,
      key,
      side,
      start_ft,
      entry_ias: null,
      parameters: {},
      school: null,
      flown_by: "student with talk",
    });
    setKey("");
  };
  const key_styles = { minHeight: 64, minWidth: 64 };
  return (
    <Box sx={styles.add}>
      <TextField select label="Not planned" value={key} onChange={(e) => setKey(e.target.value)} fullWidth>
        {catalogue.figures.map((f) => (
          <MenuItem key={f.key} value={f.key} sx={{ minHeight: 56 }}>
            {f.name}
          </MenuItem>
        ))}
      </TextField>
      {(["left", "right"] as const).slice(0, kind?.has_sides === false ? 1 : 2).map((side) => (
        <Button key={side} variant="outlined" disabled={!kind} sx={key_styles} onClick={() => add(side)}>
          {kind?.has_sides === false ? "Add" : side === "left" ? "Left" : "Right"}
        </Button>
      ))}
    </Box>
  );
}
