import { Box, Button, ButtonBase } from "@mui/material";
import { memo } from "react";
import type { FigureAnswer, PlannedFigure } from "../../api/types";
import { Key } from "../../frame/Key";
import { narrow, tokens } from "../../theme";
import { VerdictMark } from "../../verdict/VerdictMark";
import type { SortieWork } from "../useSortie";

const styles = {
  list: { listStyle: "none", p: 0, m: 0, display: "grid", gap: 0.6 },
  tools: {
    display: "flex",
    flexWrap: "wrap",
    borderTop: `1px solid ${tokens.hairline}`,
    "& .MuiButton-root": { minHeight: 30, minWidth: 0, px: 0.8, fontSize: 12.5 },
  },
  figure: {
    width: "100%",
    textAlign: "left",
    px: 1,
    py: 0.55,
    display: "grid",
    gridTemplateColumns: "18px 1fr auto",
    columnGap: 0.75,
    alignItems: "baseline",
  },
  name: { fontWeight: 660, lineHeight: 1.2, fontSize: 14 },
  spends: { ...narrow, fontWeight: 680, whiteSpace: "nowrap", fontSize: 14 },
  detail: {
    ...narrow,
    gridColumn: "2 / -1",
    color: tokens.slate,
    fontSize: 12.5,
    display: "flex",
    justifyContent: "space-between",
    gap: 1,
  },
} as const;

interface Props {
  work: SortieWork;
  selected: string | null;
  select: (id: string) => void;
  editable: boolean;
  onAdd: () => void;
  onAgain: (mirrored: boolean) => void;
  onRemove: () => void;
  onPlace: (id: string, to: number, gesture: string) => void;
}

/** The figures in order; the chosen one carries what can be done with it. */
export const SequenceList = memo(function SequenceList({
  work,
  selected,
  select,
  editable,
  onAdd,
  onAgain,
  onRemove,
  onPlace,
}: Props) {
  const { draft, answer } = work;
  const last = draft.plan.figures.length - 1;
  return (
    <>
      <Box component="ol" sx={styles.list}>
        {draft.plan.figures.map((planned, i) => {
          const chosen = planned.id === selected;
          return (
            <Box
              component="li"
              key={planned.id}
              sx={{
                bgcolor: tokens.sheet,
                border: `${chosen ? 2 : 1}px solid ${chosen ? tokens.plan : tokens.hairline}`,
                borderRadius: 1,
                m: chosen ? 0 : "1px",
              }}
            >
              <Line
                n={i + 1}
                planned={planned}
                title={answer.titles[planned.id] ?? planned.key}
                figure={answer.figures.find((f) => f.id === planned.id)}
                chosen={chosen}
                select={select}
              />
              {chosen && editable && (
                <Box sx={styles.tools}>
                  <Button size="small" disabled={i === 0} onClick={() => onPlace(planned.id, i - 1, "")}>
                    Earlier
                    <Key of="earlier" />
                  </Button>
                  <Button size="small" disabled={i === last} onClick={() => onPlace(planned.id, i + 1, "")}>
                    Later
                    <Key of="later" />
                  </Button>
                  <Button size="small" onClick={() => onAgain(false)}>
                    Repeat
                    <Key of="repeat" />
                  </Button>
                  <Button size="small" onClick={() => onAgain(true)}>
                    Mirror
                    <Key of="mirror" />
                  </Button>
                  <Button size="small" color="error" onClick={onRemove}>
                    Remove
                    <Key of="remove" />
                  </Button>
                </Box>
              )}
            </Box>
          );
        })}
      </Box>
      {editable && (
        <Button onClick={onAdd} sx={{ mt: 1 }}>
          Add a figure
          <Key of="add" />
        </Button>
      )}
    </>
  );
});

const Line = memo(function Line({
  n,
  planned,
  title,
  figure,
  chosen,
  select,
}: {
  n: number;
  planned: PlannedFigure;
  title: string;
  figure?: FigureAnswer;
  chosen: boolean;
  select: (id: string) => void;
}) {
  return (
    <ButtonBase
      data-print
      onClick={() => select(planned.id)}
      aria-current={chosen || undefined}
      sx={styles.figure}
    >
      <Box component="span" sx={{ color: tokens.plan, fontWeight: 720 }}>
        {n}
      </Box>
      <Box component="span" sx={styles.name}>
        {title}
      </Box>
      <Box component="span" sx={styles.spends}>
        {(!figure || figure.verdict !== "fine") && (
          <VerdictMark size={14} verdict={(figure?.verdict as "stop" | "mind" | undefined) ?? "stop"} />
        )}{" "}
        {figure ? figure.spends : ""}
      </Box>
      <span />
      <Box component="span" sx={styles.detail}>
        <span>
          {figure ? `${figure.entry.shown} · ` : ""}
          {planned.start_ft.toLocaleString("en")} ft
        </span>
        <span>{planned.flown_by}</span>
      </Box>
    </ButtonBase>
  );
});
