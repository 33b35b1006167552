import { Box, Button, Typography } from "@mui/material";
import { useState } from "react";
import { inOneLine } from "../../api/client";
import type { Attempt } from "../../api/types";
import { Empty } from "../../frame/states";
import { tokens } from "../../theme";
import { editAttempt, newAttempt, withAttempt } from "../edits";
import { NotYet, wrongWith, type StageProps } from "../stage";
import { Briefed } from "./Briefed";
import { Faults } from "./Faults";
import { FeelKeys, HeightKeys, StepKeys, TurnKeys, WhoKeys } from "./Keys";
import { HEIGHTS, preset, type HeightName, type Noting } from "./noting";
import { Tape } from "./Tape";

const styles = {
  sheet: {
    maxWidth: 1180,
    mx: "auto",
    minHeight: "100%",
    bgcolor: tokens.sheet,
    p: { xs: 1.2, sm: 2 },
    display: "flex",
    flexDirection: "column",
    gap: 1.2,
  },
  halves: {
    display: "grid",
    gridTemplateColumns: { xs: "1fr", md: "minmax(0, 1fr) minmax(0, 1fr)" },
    gap: 2,
    flex: 1,
  },
  noting: { display: "grid", gridTemplateColumns: "104px minmax(0, 1fr)", gap: 1.2, minWidth: 0 },
  keys: { display: "flex", flexDirection: "column", gap: 1, minWidth: 0 },
  onward: {
    display: "grid",
    gridTemplateColumns: { xs: "1fr 1fr", sm: "1fr auto auto 1fr auto" },
    gap: 1,
    mt: "auto",
    pt: 1,
    borderTop: `2px solid ${tokens.ink}`,
    "& .MuiButton-root": { minHeight: 64, fontSize: 17 },
  },
  wrong: { color: tokens.stop, fontWeight: 650, fontSize: 15 },
  alarm: { color: tokens.stop, fontWeight: 760, fontSize: 20 },
} as const;

/** In the air: one figure, one hand, ten seconds. */
export default function FlyStage(props: StageProps) {
  const { work, selected, select, move } = props;
  const figures = work.answer.figures;
  const at = Math.max(
    0,
    figures.findIndex((f) => f.id === selected),
  );
  const figure = figures[at];
  const planned = work.draft.plan.figures.find((f) => f.id === figure?.id);
  const attempt = work.draft.attempts.filter((a) => a.planned.id === figure?.id).at(-1) ?? null;
  const [active, setActive] = useState<HeightName>("start_ft");
  const editable = work.sortie.may.note;
  if (!figure || !planned) return <Empty>There is nothing to fly in this plan.</Empty>;

  const edit = (change: Partial<Attempt>, gesture?: string) =>
    work.change((draft) => {
      const made = withAttempt(draft, planned);
      return editAttempt(made.attempt.id, change)(made.draft);
    }, gesture);
  const again = () =>
    work.change((d) => {
      const made = newAttempt(
        planned,
        d.attempts.map((a) => a.id),
      );
      const last = d.attempts.map((a) => a.planned.id).lastIndexOf(planned.id);
      return { ...d, attempts: [...d.attempts.slice(0, last + 1), made, ...d.attempts.slice(last + 1)] };
    });
  const turn = (by: number) => {
    const next = figures[at + by];
    if (next) {
      select(next.id);
      setActive("start_ft");
    }
  };
  const noting: Noting = { figure, attempt, editable, edit };
  const noted = work.draft.attempts.filter((a) => a.lowest_ft != null).length;
  const below = attempt?.lowest_ft != null && attempt.lowest_ft < figure.floor.value;
  const alarm = below ? { bgcolor: tokens.stop, p: "6px" } : { bgcolor: tokens.sheet };
  return (
    <Box sx={{ height: "100%", overflow: "auto", ...alarm }}>
      <Box sx={styles.sheet}>
        {!work.sortie.reached.includes("briefed") && (
          <NotYet work={work} stage="briefed" words="Not briefed yet. Before anything can be noted here:" />
        )}
        {below && (
          <Typography role="alert" sx={styles.alarm}>
            Below the floor of {figure.floor.shown}.
          </Typography>
        )}
        <Box sx={styles.halves}>
          <Briefed figure={figure} n={at + 1} of={figures.length} />
          <Box sx={styles.noting}>
            <Tape
              value={attempt?.[active] ?? null}
              preset={preset(figure, attempt, active)}
              floor={figure.floor.value}
              top={work.answer.block_top.value}
              takeOver={figure.take_over.value}
              label={HEIGHTS.find(([name]) => name === active)?.[1] ?? ""}
              disabled={!editable}
              onValue={(ft, gesture) => edit({ [active]: ft }, gesture)}
            />
            <Box sx={styles.keys}>
              {wrongWith(work, attempt).map((p) => (
                <Typography key={p.where + p.what} role="alert" sx={styles.wrong}>
                  Not stored: {inOneLine(p)}
                </Typography>
              ))}
              <HeightKeys {...noting} active={active} onActive={setActive} />
              <StepKeys {...noting} active={active} />
              {figure.turns_allowed && <TurnKeys {...noting} planned={planned.parameters?.turns ?? 1} />}
              <FeelKeys {...noting} />
            </Box>
          </Box>
        </Box>
        <WhoKeys {...noting} />
        <Faults {...noting} first={work.sortie.earlier_faults[figure.key] ?? []} />
        <Box sx={styles.onward}>
          <Button
            disabled={at === 0}
            onClick={() => turn(-1)}
            sx={{ justifyContent: "flex-start", minWidth: 0 }}
          >
            ‹ {at > 0 ? `${at} ${figures[at - 1]?.title}` : "First"}
          </Button>
          <Button disabled={!editable || !attempt} onClick={again}>
            Again
          </Button>
          <Button disabled={!editable} onClick={() => edit({ skipped: !attempt?.skipped })}>
            {attempt?.skipped ? "Not skipped" : "Skip"}
          </Button>
          <Button
            disabled={at === figures.length - 1}
            onClick={() => turn(1)}
            sx={{ justifyContent: "flex-end", minWidth: 0 }}
          >
            {at < figures.length - 1 ? `${at + 2} ${figures[at + 1]?.title}` : "Last"} ›
          </Button>
          {work.sortie.may.move === "flown" && (
            <Button variant="contained" onClick={() => move("flown", "debrief")}>
              Landed: {noted} noted
            </Button>
          )}
        </Box>
      </Box>
    </Box>
  );
}
