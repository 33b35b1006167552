import { Box, TextField, Typography } from "@mui/material";
import type { GradesAsked, Grading } from "../api/types";
import { NumberField } from "../forms/NumberField";
import { narrow, tokens } from "../theme";

const styles = {
  table: {
    ...narrow,
    fontSize: 14,
    borderCollapse: "collapse",
    width: "100%",
    "& th": { textAlign: "left", fontWeight: 400, py: 0.3, pr: 1 },
    "& td": { textAlign: "right", px: 1, whiteSpace: "nowrap" },
    "& thead th": { color: tokens.slate },
    "& thead th + th": { textAlign: "right", px: 1 },
    "& tbody tr": { borderTop: `1px solid ${tokens.hairline}` },
  },
  cell: { width: 110, p: 0.4 },
  words: { display: "grid", gap: 1.2, mt: 1.5 },
} as const;

/** What is asked of each grade by numbers, lowest first, with its name in the document. */
const ASKED = [
  ["guided", "Guided"],
  ["sound", "Sound"],
  ["solo_ready", "Solo-ready"],
] as const;
const GRADES = ["Shown", "Not yet", "Guided", "Sound", "Solo-ready"] as const;

type Measure = GradesAsked["measures"][number];

function most({ measure, most: shipped }: Measure, gradings: readonly Grading[]) {
  return gradings.find((g) => g.most?.[measure])?.most?.[measure] ?? shipped;
}

function GradeHeads() {
  return (
    <thead>
      <tr>
        <th scope="col">At most</th>
        {ASKED.map(([name, grade]) => (
          <th key={name} scope="col">
            {grade}
          </th>
        ))}
      </tr>
    </thead>
  );
}

interface ShownProps {
  asked: GradesAsked;
  /** The figure's own before the school's. */ gradings: readonly Grading[];
}

/** What each grade asks, to be read. */
export function GradesTable({ asked, gradings }: ShownProps) {
  return (
    <Box component="section" aria-label="Grades" sx={{ mt: 2 }}>
      <Typography variant="h2">What each grade asks</Typography>
      <Box component="dl" sx={{ m: 0, mb: 0.5, fontSize: 13.5 }}>
        {GRADES.map((grade) => (
          <Box key={grade}>
            <Box component="dt" sx={{ display: "inline", fontWeight: 660 }}>
              {grade}:
            </Box>{" "}
            <Box component="dd" sx={{ display: "inline", m: 0 }}>
              {gradings.find((g) => g.words?.[grade])?.words?.[grade] ?? asked.words[grade]}
            </Box>
          </Box>
        ))}
      </Box>
      <Box component="table" sx={styles.table}>
        <GradeHeads />
        <tbody>
          {asked.measures.map((m) => (
            <tr key={m.measure}>
              <th scope="row">{m.label}</th>
              {ASKED.map(([name]) => {
                const value = most(m, gradings)[name];
                return <td key={name}>{value == null ? "–" : `${value} ${m.unit}`.trim()}</td>;
              })}
            </tr>
          ))}
        </tbody>
      </Box>
    </Box>
  );
}

interface EditProps {
  asked: GradesAsked;
  value: Grading;
  /** What counts where a field is empty. */ under: readonly Grading[];
  onChange: (value: Grading) => void;
}

/** The chief's numbers and words of each grade; an empty row leaves what stood there before. */
export function GradingFields({ asked, value, under, onChange }: EditProps) {
  const setMost = (m: Measure, name: (typeof ASKED)[number][0], number: number | null) => {
    const others = Object.fromEntries(Object.entries(value.most ?? {}).filter(([key]) => key !== m.measure));
    const row = { ...most(m, under), ...value.most?.[m.measure], [name]: number };
    const same = JSON.stringify(row) === JSON.stringify(most(m, under));
    onChange({ ...value, most: same ? others : { ...others, [m.measure]: row } });
  };
  return (
    <>
      <Box component="table" sx={styles.table}>
        <GradeHeads />
        <tbody>
          {asked.measures.map((m) => (
            <tr key={m.measure}>
              <th scope="row">
                {m.label}
                {m.unit && `, ${m.unit}`}
              </th>
              {ASKED.map(([name, grade]) => (
                <Box component="td" key={name} sx={styles.cell}>
                  <NumberField
                    label=""
                    aria={`${m.label}, ${grade}`}
                    optional
                    least={0}
                    most={5000}
                    value={most(m, [value, ...under])[name] ?? null}
                    onValue={(number) => setMost(m, name, number)}
                  />
                </Box>
              ))}
            </tr>
          ))}
        </tbody>
      </Box>
      <Box sx={styles.words}>
        {GRADES.map((grade) => (
          <TextField
            key={grade}
            label={`${grade}, in words`}
            multiline
            value={value.words?.[grade] ?? ""}
            placeholder={under.find((g) => g.words?.[grade])?.words?.[grade] ?? asked.words[grade]}
            slotProps={{ htmlInput: { maxLength: 300 }, inputLabel: { shrink: true } }}
            onChange={(e) => {
              const others = Object.fromEntries(
                Object.entries(value.words ?? {}).filter(([key]) => key !== grade),
              );
              onChange({
                ...value,
                words: e.target.value ? { ...others, [grade]: e.target.value } : others,
              });
            }}
          />
        ))}
      </Box>
    </>
  );
}

/** What a grading says of its own, for the history. */
export function gradingWords(grading: Grading | undefined, asked: GradesAsked | undefined): string[] {
  return [
    ...Object.entries(grading?.most ?? {}).map(([key, row]) => {
      const m = asked?.measures.find((one) => one.measure === key);
      const numbers = ASKED.map(([name]) => row?.[name] ?? "–").join("/");
      return `${(m?.label ?? key).toLowerCase()} at most ${numbers} ${m?.unit ?? ""}`.trim();
    }),
    ...Object.entries(grading?.words ?? {}).map(([grade, words]) => `${grade}: “${words}”`),
  ];
}
