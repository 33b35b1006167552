import { Box, Button, TextField } from "@mui/material";
import { NumberField } from "../forms/NumberField";
import type { PartProps } from "./CourseEditor";
import { nameInFiles, put, withoutGround } from "./edit";

const styles = {
  row: { display: "grid", gap: 1, gridTemplateColumns: "minmax(0, 1fr) 120px auto", alignItems: "start" },
} as const;

export function GroundEditor({ course, onCourse }: PartProps) {
  const items = course.ground;
  const add = () => {
    const key = nameInFiles(
      "ground item",
      items.map((g) => g.key),
    );
    onCourse({ ...course, ground: [...items, { key, words: "", hours: 0.5 }] });
  };
  return (
    <Box component="section" aria-label="On the ground" sx={{ display: "grid", gap: 1.2 }}>
      {items.map((item, i) => (
        <Box key={item.key} sx={styles.row}>
          <TextField
            label="What"
            value={item.words}
            onChange={(e) =>
              onCourse({ ...course, ground: put(items, i, { ...item, words: e.target.value }) })
            }
            slotProps={{ htmlInput: { maxLength: 160 } }}
          />
          <NumberField
            label="Hours"
            unit="h"
            aria={`Hours of item ${i + 1}`}
            least={0}
            most={100}
            step={0.5}
            value={item.hours}
            onValue={(v) => onCourse({ ...course, ground: put(items, i, { ...item, hours: v ?? 0 }) })}
          />
          <Button
            color="error"
            aria-label={`Take out item ${i + 1}`}
            onClick={() => onCourse(withoutGround(course, i))}
          >
            Take out
          </Button>
        </Box>
      ))}
      <Button sx={{ justifySelf: "start" }} onClick={add}>
        Add an item
      </Button>
    </Box>
  );
}
