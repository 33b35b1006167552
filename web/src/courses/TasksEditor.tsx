import { Box, FormControlLabel, ListSubheader, MenuItem, Switch, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { useCatalogue } from "../api/questions";
import type { CourseTask, Figure } from "../api/types";
import { NumberField } from "../forms/NumberField";
import type { PartProps } from "./CourseEditor";
import { EditList } from "./EditList";
import { moved, newTask, put, withoutTask } from "./edit";

const styles = {
  halves: { display: "grid", gap: 2, gridTemplateColumns: { xs: "1fr", md: "290px minmax(0, 1fr)" } },
  fields: {
    display: "grid",
    gap: 1.4,
    gridTemplateColumns: { xs: "1fr", md: "1fr 1fr 1fr" },
    alignContent: "start",
  },
  wide: { gridColumn: "1 / -1" },
  several: { gridColumn: "1 / -1", "& .MuiSelect-select": { whiteSpace: "normal" } },
} as const;

const OWN = "student's own work";
const AS_TAUGHT = "as the school teaches it";

/** What a task is called here: as the chief calls it, or its figure with its side. */
export function titleOf(task: CourseTask, figures: readonly Figure[]): string {
  const words = task.name || (figures.find((f) => f.key === task.figure)?.name ?? task.figure);
  return task.side !== "both" ? `${words}, ${task.side}` : words;
}

export function TasksEditor({ course, onCourse }: PartProps) {
  const figures = useCatalogue().data?.figures ?? [];
  const [at, setAt] = useState(0);
  const task = course.tasks[at];
  const add = () => {
    const taken = course.tasks.map((t) => t.key);
    const figure = figures[0]?.key ?? "";
    const made = newTask(figure, taken);
    onCourse({ ...course, tasks: [...course.tasks, made] });
    setAt(course.tasks.length);
  };
  return (
    <Box sx={styles.halves}>
      <EditList
        label="Tasks"
        what="task"
        titles={course.tasks.map((t) => titleOf(t, figures))}
        chosen={at}
        onChoose={setAt}
        onAdd={add}
        onRemove={(i) => {
          onCourse(withoutTask(course, i));
          setAt(Math.max(0, i - 1));
        }}
        onMove={(i, by) => {
          onCourse({ ...course, tasks: moved(course.tasks, i, by) });
          setAt(i + by);
        }}
      />
      {task && (
        <TaskFields
          key={task.key}
          task={task}
          others={course.tasks.filter((t) => t.key !== task.key)}
          figures={figures}
          onTask={(edit) => onCourse({ ...course, tasks: put(course.tasks, at, { ...task, ...edit }) })}
        />
      )}
    </Box>
  );
}

interface FieldsProps {
  task: CourseTask;
  others: CourseTask[];
  figures: readonly Figure[];
  onTask: (edit: Partial<CourseTask>) => void;
}

function TaskFields({ task, others, figures, onTask }: FieldsProps) {
  const { flown_by: flownBy = [], needed = [] } = useCatalogue().data ?? {};
  const figure = figures.find((f) => f.key === task.figure);
  const families = [...new Set(figures.map((f) => f.family))];
  const setting = (name: string, value: number | null) => {
    const others = Object.entries(task.settings).filter(([held]) => held !== name);
    onTask({ settings: Object.fromEntries(value === null ? others : [...others, [name, value]]) });
  };
  return (
    <Box sx={styles.fields}>
      <TextField
        select
        label="Figure"
        value={task.figure}
        onChange={(e) => onTask({ figure: e.target.value, settings: {}, method: null, side: "both" })}
      >
        {families.flatMap((family) => [
          <ListSubheader key={family}>{family}</ListSubheader>,
          ...figures
            .filter((f) => f.family === family)
            .map((f) => (
              <MenuItem key={f.key} value={f.key}>
                {f.name}
              </MenuItem>
            )),
        ])}
      </TextField>
      <TextField
        label="Called, if not as the figure"
        value={task.name}
        onChange={(e) => onTask({ name: e.target.value })}
        slotProps={{ htmlInput: { maxLength: 60 } }}
      />
      {figure?.has_sides ? (
        <TextField
          select
          label="Side"
          value={task.side}
          onChange={(e) => onTask({ side: e.target.value as CourseTask["side"] })}
        >
          <MenuItem value="both">both, each by itself</MenuItem>
          <MenuItem value="left">left</MenuItem>
          <MenuItem value="right">right</MenuItem>
        </TextField>
      ) : (
        <span />
      )}
      <TextField
        select
        label="Needed"
        value={task.needed}
        onChange={(e) => onTask({ needed: e.target.value as CourseTask["needed"] })}
      >
        {needed.map((state) => (
          <MenuItem key={state} value={state}>
            {state}
          </MenuItem>
        ))}
      </TextField>
      <NumberField
        label="Within, beyond the brief"
        unit="ft"
        optional
        placeholder="not asked"
        least={0}
        most={5000}
        value={task.within_ft ?? null}
        onValue={(v) => onTask({ within_ft: v })}
      />
      <TextField
        select
        label="Counts only as"
        value={task.flown_by ?? OWN}
        onChange={(e) =>
          onTask({ flown_by: e.target.value === OWN ? null : (e.target.value as CourseTask["flown_by"]) })
        }
      >
        {[OWN, ...flownBy].map((who) => (
          <MenuItem key={who} value={who}>
            {who}
          </MenuItem>
        ))}
      </TextField>
      {figure && figure.schools.length > 0 && (
        <TextField
          select
          label="Recovery method"
          value={task.method ?? AS_TAUGHT}
          onChange={(e) => onTask({ method: e.target.value === AS_TAUGHT ? null : e.target.value })}
        >
          <MenuItem value={AS_TAUGHT}>{AS_TAUGHT}</MenuItem>
          {figure.schools
            .filter((s) => s.taught)
            .map((s) => (
              <MenuItem key={s.key} value={s.key}>
                {s.name}
              </MenuItem>
            ))}
        </TextField>
      )}
      {figure?.parameters
        .filter((p) => !p.switch)
        .map((p) => (
          <NumberField
            key={p.name}
            label={p.label}
            unit={p.unit}
            optional
            placeholder={`any; usually ${p.usual}`}
            least={p.least}
            most={p.most}
            value={task.settings[p.name] ?? null}
            onValue={(v) => setting(p.name, v)}
          />
        ))}
      {figure?.parameters
        .filter((p) => p.switch)
        .map((p) => (
          <FormControlLabel
            key={p.name}
            label={p.label}
            control={
              <Switch
                checked={task.settings[p.name] === 1}
                onChange={(e) => setting(p.name, e.target.checked ? 1 : null)}
              />
            }
          />
        ))}
      <TextField
        label="Standard in words"
        value={task.words}
        onChange={(e) => onTask({ words: e.target.value })}
        multiline
        sx={styles.wide}
        slotProps={{ htmlInput: { maxLength: 300 } }}
      />
      <Several
        label="After, flown with help at least"
        options={others.map((t) => [t.key, titleOf(t, figures)])}
        value={task.after}
        onValue={(after) => onTask({ after })}
      />
      <Typography sx={{ ...styles.wide, fontSize: 13, color: "text.secondary" }}>
        Name in files: {task.key}
      </Typography>
    </Box>
  );
}

interface SeveralProps {
  label: string;
  options: [key: string, words: string][];
  value: string[];
  onValue: (value: string[]) => void;
}

/** Any of them, by their names in files. */
export function Several({ label, options, value, onValue }: SeveralProps) {
  const words = new Map(options);
  return (
    <TextField
      select
      label={label}
      value={value}
      sx={styles.several}
      onChange={(e) => onValue(e.target.value as unknown as string[])}
      slotProps={{
        select: {
          multiple: true,
          displayEmpty: true,
          renderValue: () => value.map((key) => words.get(key) ?? key).join("; ") || "none",
        },
        inputLabel: { shrink: true },
      }}
    >
      {options.map(([key, name]) => (
        <MenuItem key={key} value={key}>
          {name}
        </MenuItem>
      ))}
    </TextField>
  );
}
