import { Box, Button, ButtonBase } from "@mui/material";
import { Key } from "../../frame/Key";
import { narrow, tokens } from "../../theme";
import { VerdictMark } from "../../verdict/VerdictMark";
import { moveFigure, removeFigure } from "../edits";
import type { SortieWork } from "../useSortie";

interface Props { work: SortieWork; selected: string | null; select: (id: string) => void; editable: boolean; onAdd: () => void }

export function SequenceList({ work, selected, select, editable, onAdd }: Props) {
  const { draft, answer } = work;
  return (
    <>
      <Box component="ol" sx={{ listStyle: "none", p: 0, m: 0, display: "grid", gap: 0.75 }}>
        {draft.plan.figures.map((planned, i) => {
          const figure = answer.figures.find((f) => f.id === planned.id);
          const chosen = planned.id === selected;
          return (
            <Box component="li" key={planned.id} sx={{ bgcolor: tokens.sheet, border: `${chosen ? 2 : 1}px solid ${chosen ? tokens.plan : tokens.hairline}`, borderRadius: 1, m: chosen ? 0 : "1px" }}>
              <ButtonBase onClick={() => select(planned.id)} aria-current={chosen || undefined} sx={{ width: "100%", textAlign: "left", px: 1, py: 0.7, display: "grid", gridTemplateColumns: "18px 1fr auto", columnGap: 0.75, alignItems: "baseline" }}>
                <Box component="span" sx={{ color: tokens.plan, fontWeight: 720 }}>{i + 1}</Box>
                <Box component="span" sx={{ fontWeight: 660, lineHeight: 1.2, fontSize: 14 }}>{answer.titles[planned.id] ?? planned.key}</Box>
                <Box component="span" sx={{ ...narrow, fontWeight: 680, whiteSpace: "nowrap", fontSize: 14 }}>
                  {(!figure || figure.verdict !== "fine") && <VerdictMark size={14} verdict={(figure?.verdict as "stop" | "mind" | undefined) ?? "stop"} />} {figure ? `${figure.likely.value > 0 ? "−" : ""}${figure.likely.shown.replace(" ft", "")}` : ""}
                </Box>
                <span />
                <Box component="span" sx={{ ...narrow, gridColumn: "2 / -1", color: tokens.slate, fontSize: 12.5, display: "flex", justifyContent: "space-between", gap: 1 }}>
                  <span>{figure ? `${figure.entry.shown} · ` : ""}{planned.start_ft.toLocaleString("en")} ft</span><span>{planned.flown_by}</span>
                </Box>
              </ButtonBase>
              {chosen && editable && (
                <Box sx={{ display: "flex", borderTop: `1px solid ${tokens.hairline}` }}>
                  <Button size="small" disabled={i === 0} onClick={() => work.change(moveFigure(planned.id, -1))} sx={{ minHeight: 32, fontSize: 12.5 }}>Earlier</Button>
                  <Button size="small" disabled={i === draft.plan.figures.length - 1} onClick={() => work.change(moveFigure(planned.id, 1))} sx={{ minHeight: 32, fontSize: 12.5 }}>Later</Button>
                  <Button size="small" color="error" onClick={() => work.change(removeFigure(planned.id))} sx={{ minHeight: 32, fontSize: 12.5, ml: "auto" }}>Remove</Button>
                </Box>
              )}
            </Box>
          );
        })}
      </Box>
      {editable && <Button onClick={onAdd} sx={{ mt: 1 }}>Add a figure<Key>a</Key></Button>}
    </>
  );
}
