import { Box, MenuItem, TextField } from "@mui/material";
import type { Figure, FigureStandard } from "../api/types";
import { NumberField } from "../forms/NumberField";
import { narrow, tokens } from "../theme";

type Blocking = NonNullable<FigureStandard["blocking"]>;
export type Blocks = NonNullable<Blocking[string]>;
type Fault = Figure["faults"][number];

const FROM = ["Guided", "Sound", "Solo-ready"] as const;
const styles = {
  table: {
    ...narrow,
    fontSize: 14,
    borderCollapse: "collapse",
    width: "100%",
    "& th": { textAlign: "left", fontWeight: 400, py: 0.3, pr: 1 },
    "& thead th": { color: tokens.slate },
    "& tbody tr": { borderTop: `1px solid ${tokens.hairline}` },
  },
  cell: { width: 170, p: 0.4 },
} as const;

/** The chief's own where there is one, null there for a fault that holds nobody back; else the catalogue's. */
export function blocksOf(fault: Fault, own: Blocking | undefined): Blocks | null {
  const chiefs = own?.[fault.key];
  return chiefs === undefined ? (fault.blocks ?? null) : chiefs;
}

/** What a fault keeps from, in words; empty where it holds nobody back. */
export function blocksWords(blocks: Blocks | null): string {
  if (!blocks) return "";
  const { grade, clean_attempts: clean } = blocks;
  return `not graded ${grade} until ${clean === 1 ? "1 attempt" : `${clean} attempts`} without it`;
}

interface Props {
  faults: readonly Fault[];
  value: Blocking;
  onChange: (value: Blocking) => void;
}

/** Which faults hold a student back whatever height they cost: from which grade on, and for how many attempts. */
export function BlockingFields({ faults, value, onChange }: Props) {
  const set = (fault: Fault, blocks: Blocks | null) => {
    const others = Object.fromEntries(Object.entries(value).filter(([key]) => key !== fault.key));
    const usual = JSON.stringify(blocks) === JSON.stringify(fault.blocks ?? null);
    onChange(usual ? others : { ...others, [fault.key]: blocks });
  };
  return (
    <Box component="table" sx={styles.table}>
      <thead>
        <tr>
          <th scope="col">Fault</th>
          <th scope="col">Keeps from</th>
          <th scope="col">Until attempts without it</th>
        </tr>
      </thead>
      <tbody>
        {faults.map((fault) => {
          const blocks = blocksOf(fault, value);
          return (
            <tr key={fault.key}>
              <th scope="row">{fault.words}</th>
              <Box component="td" sx={styles.cell}>
                <TextField
                  select
                  fullWidth
                  size="small"
                  value={blocks?.grade ?? ""}
                  slotProps={{
                    select: { displayEmpty: true },
                    htmlInput: { "aria-label": `${fault.words}: keeps from` },
                  }}
                  onChange={(e) => {
                    const grade = FROM.find((one) => one === e.target.value);
                    set(fault, grade ? { grade, clean_attempts: blocks?.clean_attempts ?? 2 } : null);
                  }}
                >
                  <MenuItem value="">nothing</MenuItem>
                  {FROM.map((grade) => (
                    <MenuItem key={grade} value={grade}>
                      {grade}
                    </MenuItem>
                  ))}
                </TextField>
              </Box>
              <Box component="td" sx={styles.cell}>
                {blocks && (
                  <NumberField
                    label=""
                    aria={`${fault.words}: attempts without it`}
                    least={1}
                    most={10}
                    value={blocks.clean_attempts}
                    onValue={(clean) => clean !== null && set(fault, { ...blocks, clean_attempts: clean })}
                  />
                )}
              </Box>
            </tr>
          );
        })}
      </tbody>
    </Box>
  );
}
