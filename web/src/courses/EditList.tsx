import { Box, Button } from "@mui/material";
import { tokens } from "../theme";

const styles = {
  whole: { borderRight: `1px solid ${tokens.hairline}`, pr: 1.5, minWidth: 0 },
  list: { maxHeight: "52vh", overflow: "auto" },
  one: {
    display: "block",
    width: "100%",
    textAlign: "left",
    borderRadius: 0,
    color: tokens.ink,
    fontWeight: 500,
    px: 1,
    minHeight: 44,
  },
  chosen: { bgcolor: tokens.planPale },
  acts: { display: "flex", flexWrap: "wrap", gap: 0.5, mt: 1 },
} as const;

interface Props {
  label: string;
  /** One of them: "task". */ what: string;
  titles: string[];
  chosen: number;
  onChoose: (at: number) => void;
  onAdd: () => void;
  onRemove: (at: number) => void;
  onMove: (at: number, by: 1 | -1) => void;
}

/** Entries in their order, one of them chosen: added, taken out, moved up and down. */
export function EditList({ label, what, titles, chosen, onChoose, onAdd, onRemove, onMove }: Props) {
  const name = titles[chosen];
  return (
    <Box sx={styles.whole}>
      <Box role="group" aria-label={label} sx={styles.list}>
        {titles.map((title, i) => (
          <Button
            key={i}
            aria-pressed={i === chosen}
            onClick={() => onChoose(i)}
            sx={i === chosen ? { ...styles.one, ...styles.chosen } : styles.one}
          >
            {i + 1}. {title}
          </Button>
        ))}
      </Box>
      <Box sx={styles.acts}>
        <Button size="small" onClick={onAdd}>
          Add a {what}
        </Button>
        {name !== undefined && (
          <>
            <Button
              size="small"
              disabled={chosen === 0}
              aria-label={`${name} earlier`}
              onClick={() => onMove(chosen, -1)}
            >
              Earlier
            </Button>
            <Button
              size="small"
              disabled={chosen === titles.length - 1}
              aria-label={`${name} later`}
              onClick={() => onMove(chosen, 1)}
            >
              Later
            </Button>
            <Button
              size="small"
              color="error"
              aria-label={`Take out ${name}`}
              onClick={() => onRemove(chosen)}
            >
              Take out
            </Button>
          </>
        )}
      </Box>
    </Box>
  );
}
