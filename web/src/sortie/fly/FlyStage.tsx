import { Box, Button, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useState } from "react";
import type { Attempt, FigureAnswer, FlownBy } from "../../api/types";
import { Empty } from "../../frame/states";
import { narrow, tokens } from "../../theme";
import { editAttempt, newAttempt, withAttempt } from "../edits";
import { NotYet, type StageProps } from "../stage";
import { Tape } from "./Tape";

export type HeightName = "start_ft" | "recover_ft" | "lowest_ft" | "level_ft";
const HEIGHTS: [HeightName, string][] = [
  ["start_ft", "Start"],
  ["recover_ft", "Recover"],
  ["lowest_ft", "Lowest"],
  ["level_ft", "Level"],
];
const WHO: Record<FlownBy, string> = {
  "instructor shows": "I showed",
  "student with talk": "With talk",
  "student alone": "Student",
};

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
  const noted = work.draft.attempts.filter((a) => a.lowest_ft != null).length;
  const below = attempt?.lowest_ft != null && attempt.lowest_ft < figure.floor.value;
  return (
    <Box
      sx={{
        height: "100%",
        overflow: "auto",
        bgcolor: below ? tokens.stop : tokens.sheet,
        p: below ? "6px" : 0,
      }}
    >
      <Box
        sx={{
          maxWidth: 1180,
          mx: "auto",
          minHeight: "100%",
          bgcolor: tokens.sheet,
          p: { xs: 1.2, sm: 2 },
          display: "flex",
          flexDirection: "column",
          gap: 1.2,
        }}
      >
        {!work.sortie.reached.includes("briefed") && (
          <NotYet work={work} stage="briefed" words="Not briefed yet. Before anything can be noted here:" />
        )}
        {below && (
          <Typography role="alert" sx={{ color: tokens.stop, fontWeight: 760, fontSize: 20 }}>
            Below the floor of {figure.floor.shown}.
          </Typography>
        )}
        <Box
          sx={{
            display: "grid",
            gridTemplateColumns: { xs: "1fr", md: "minmax(0, 1fr) minmax(0, 1fr)" },
            gap: 2,
            flex: 1,
          }}
        >
          <Briefed figure={figure} n={at + 1} of={figures.length} />
          <Box sx={{ display: "grid", gridTemplateColumns: "104px minmax(0, 1fr)", gap: 1.2, minWidth: 0 }}>
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
            <Box sx={{ display: "flex", flexDirection: "column", gap: 1, minWidth: 0 }}>
              <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1 }}>
                {HEIGHTS.map(([name, words]) => {
                  const value = attempt?.[name];
                  const on = active === name;
                  return (
                    <Button
                      key={name}
                      disabled={!editable}
                      aria-pressed={on}
                      onClick={() => {
                        setActive(name);
                        if (value == null) edit({ [name]: preset(figure, attempt, name) });
                      }}
                      variant={on ? "contained" : "outlined"}
                      sx={{
                        minHeight: 68,
                        flexDirection: "column",
                        lineHeight: 1.1,
                        borderWidth: 2,
                        fontSize: 17,
                      }}
                    >
                      {words}
                      <Box component="span" sx={{ ...narrow, fontSize: 23, fontWeight: 760 }}>
                        {value != null ? (
                          value.toLocaleString("en")
                        ) : (
                          <Box component="span" sx={{ opacity: 0.8, fontWeight: 500, fontSize: 17 }}>
                            {preset(figure, attempt, name).toLocaleString("en")} ?
                          </Box>
                        )}
                      </Box>
                    </Button>
                  );
                })}
              </Box>
              <Box sx={{ display: "grid", gridTemplateColumns: "repeat(4, 1fr)", gap: 1 }}>
                {[-100, -20, 20, 100].map((by) => (
                  <Button
                    key={by}
                    variant="outlined"
                    color="inherit"
                    disabled={!editable}
                    onClick={() =>
                      edit({
                        [active]: Math.max(0, (attempt?.[active] ?? preset(figure, attempt, active)) + by),
                      })
                    }
                    sx={{
                      minHeight: 64,
                      minWidth: 0,
                      fontSize: 20,
                      ...narrow,
                      fontWeight: 720,
                      borderWidth: 2,
                    }}
                  >
                    {by > 0 ? `+${by}` : `−${-by}`}
                  </Button>
                ))}
              </Box>
              {figure.turns_allowed && (
                <Box sx={{ display: "flex", alignItems: "center", gap: 1 }}>
                  <Button
                    variant="outlined"
                    disabled={!editable}
                    onClick={() =>
                      edit({ turns: Math.max(0, (attempt?.turns ?? plannedTurns(planned)) - 0.5) })
                    }
                    sx={{ minHeight: 64, minWidth: 64, fontSize: 22 }}
                    aria-label="Half a turn less"
                  >
                    −½
                  </Button>
                  <Typography sx={{ flex: 1, textAlign: "center", fontSize: 18, fontWeight: 680 }}>
                    {attempt?.turns ?? plannedTurns(planned)} turns{attempt?.turns == null && " ?"}
                  </Typography>
                  <Button
                    variant="outlined"
                    disabled={!editable}
                    onClick={() => edit({ turns: (attempt?.turns ?? plannedTurns(planned)) + 0.5 })}
                    sx={{ minHeight: 64, minWidth: 64, fontSize: 22 }}
                    aria-label="Half a turn more"
                  >
                    +½
                  </Button>
                </Box>
              )}
              <Box
                role="group"
                aria-label="How do you feel, 0 to 10"
                sx={{ display: "grid", gridTemplateColumns: "repeat(6, 1fr)", gap: 0.5 }}
              >
                <Typography sx={{ alignSelf: "center", fontSize: 14, fontWeight: 650, lineHeight: 1.1 }}>
                  Feel
                </Typography>
                {Array.from({ length: 11 }, (_, n) => (
                  <ToggleButton
                    key={n}
                    value={n}
                    selected={attempt?.feel === n}
                    disabled={!editable}
                    onChange={() => edit({ feel: attempt?.feel === n ? null : n })}
                    sx={{ minHeight: 48, minWidth: 0, p: 0, fontSize: 18 }}
                    aria-label={`Feel ${n}`}
                  >
                    {n}
                  </ToggleButton>
                ))}
              </Box>
            </Box>
          </Box>
        </Box>
        <ToggleButtonGroup
          exclusive
          fullWidth
          disabled={!editable}
          value={attempt?.flown_by ?? null}
          aria-label="Who flew"
          onChange={(_, who: FlownBy | null) => who && edit({ flown_by: who })}
        >
          {(Object.entries(WHO) as [FlownBy, string][]).map(([value, words]) => (
            <ToggleButton key={value} value={value} sx={{ minHeight: 64, fontSize: 17 }}>
              {words}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        <Faults
          figure={figure}
          attempt={attempt}
          first={work.sortie.earlier_faults[figure.key] ?? []}
          editable={editable}
          edit={edit}
        />
        <Box
          sx={{
            display: "grid",
            gridTemplateColumns: { xs: "1fr 1fr", sm: "1fr auto auto 1fr auto" },
            gap: 1,
            mt: "auto",
            pt: 1,
            borderTop: `2px solid ${tokens.ink}`,
            "& .MuiButton-root": { minHeight: 64, fontSize: 17 },
          }}
        >
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
          <Button
            disabled={!editable}
            onClick={() => {
              edit({ skipped: !attempt?.skipped });
            }}
          >
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

function plannedTurns(planned: { parameters?: Record<string, number> }): number {
  return planned.parameters?.turns ?? 1;
}

/** What a key offers before it is set: the plan's own height, from the start that was flown. */
export function preset(figure: FigureAnswer, attempt: Attempt | null, name: HeightName): number {
  const start = attempt?.start_ft ?? figure.start.value;
  const likely = figure.likely.value;
  const down = {
    start_ft: 0,
    recover_ft: figure.start.value - figure.recovers.value,
    lowest_ft: likely,
    level_ft: likely,
  }[name];
  const ft = Math.round((start - down) / 20) * 20;
  return name === "level_ft" && attempt?.lowest_ft != null ? attempt.lowest_ft : ft;
}

function Briefed({ figure, n, of }: { figure: FigureAnswer; n: number; of: number }) {
  const big = (words: string, shown: string, colour: string = tokens.ink) => (
    <Box>
      <Typography
        sx={{
          fontSize: { xs: 13.5, sm: 15 },
          lineHeight: 1.2,
          color: colour === tokens.ink ? tokens.slate : colour,
        }}
      >
        {words}
      </Typography>
      <Box sx={{ ...narrow, fontSize: { xs: 25, sm: 40 }, fontWeight: 780, lineHeight: 1.05, color: colour }}>
        {shown}
      </Box>
    </Box>
  );
  return (
    <Box>
      <Typography sx={{ color: tokens.slate, fontWeight: 640 }}>
        {n} of {of}
      </Typography>
      <Typography
        component="h2"
        sx={{
          fontSize: { xs: 26, sm: 36 },
          fontWeight: 780,
          letterSpacing: "-0.015em",
          lineHeight: 1.05,
          mb: 1,
        }}
      >
        {figure.title}
      </Typography>
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: "1fr 1fr",
          gap: 1,
          borderBottom: `2px solid ${tokens.ink}`,
          pb: 1,
          mb: 1,
        }}
      >
        {big(
          "Start at or above",
          figure.lowest_start.value > figure.start.value ? figure.lowest_start.shown : figure.start.shown,
        )}
        {big("Enter at", figure.entry.shown)}
        {big(`My controls if ${figure.take_over_words}`, figure.take_over.shown, tokens.mindInk)}
        {big("Floor", figure.floor.shown, tokens.stop)}
      </Box>
      <Typography sx={{ fontSize: { xs: 17, sm: 23 }, fontWeight: 640, lineHeight: 1.25 }}>
        {figure.spoken}
      </Typography>
      <Typography sx={{ mt: 1, color: tokens.stop, fontWeight: 640 }}>{figure.stop_words[0]}</Typography>
    </Box>
  );
}

function Faults({
  figure,
  attempt,
  first,
  editable,
  edit,
}: {
  figure: FigureAnswer;
  attempt: Attempt | null;
  first: string[];
  editable: boolean;
  edit: (change: Partial<Attempt>) => void;
}) {
  const [all, setAll] = useState(false);
  const made = attempt?.faults ?? [];
  const ordered = [...figure.faults].sort(
    (a, b) => Number(first.includes(b.words)) - Number(first.includes(a.words)),
  );
  const shown = all ? ordered : ordered.filter((f, i) => i < 5 || made.includes(f.key));
  return (
    <Box role="group" aria-label="Faults" sx={{ display: "flex", flexWrap: "wrap", gap: 1 }}>
      {shown.map(({ key, words }) => (
        <ToggleButton
          key={key}
          value={key}
          selected={made.includes(key)}
          disabled={!editable}
          sx={{ minHeight: 64, fontSize: 16, px: 2 }}
          onChange={() =>
            edit({ faults: made.includes(key) ? made.filter((k) => k !== key) : [...made, key] })
          }
        >
          {words}
        </ToggleButton>
      ))}
      {ordered.length > 5 && (
        <Button onClick={() => setAll(!all)} sx={{ minHeight: 64 }}>
          {all ? "Fewer" : `${ordered.length - 5} more`}
        </Button>
      )}
    </Box>
  );
}
