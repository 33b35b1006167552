import { Box, Button, List, ListItemButton } from "@mui/material";
import { tokens } from "../theme";

const styles = {
  whole: { borderRight: `1px solid ${tokens.hairline}`, pr: 1.5, minWidth: 0 },
  list: { maxHeight: "52vh", overflow: "auto", py: 0 },
  one: { py: 0.5, px: 1, fontSize: 14.5, minHeight: 40 },
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
      <List aria-label={label} sx={styles.list}>
        {titles.map((title, i) => (
          <ListItemButton key={i} selected={i === chosen} onClick={() => onChoose(i)} sx={styles.one}>
            {i + 1}. {title}
          </ListItemButton>
        ))}
      </List>
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
