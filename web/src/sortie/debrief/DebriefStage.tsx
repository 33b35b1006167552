import {
  Box,
  Button,
  ButtonBase,
  Paper,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useState } from "react";
import type { Attempt, LossAccount } from "../../api/types";
import { HeightAccount } from "../../charts/HeightAccount";
import { Key } from "../../frame/Key";
import { useCommands, type CommandName } from "../../frame/commands";
import { heightLost } from "../Went";
import { AttemptTrace, foundIn } from "./AttemptTrace";
import { Became, became } from "./Became";
import { Beside } from "./Beside";
import { FaultTicks } from "./FaultTicks";
import { Recordings } from "./Recordings";
import { HeightStrip } from "../../strip/HeightStrip";
import { narrow, tokens } from "../../theme";
import type { Edits } from "../../notes/entry";
import { useCatalogue, useRecordings } from "../../api/questions";
import { useBounds } from "../../forms/bounds";
import { LateText } from "../../forms/LateText";
import { NumberField } from "../../forms/NumberField";
import { column, NotYet, type StageProps } from "../stage";

const styles = {
  page: {
    height: "100%",
    display: { xs: "block", md: "grid" },
    gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "230px minmax(0, 1fr) 310px" },
    gridTemplateRows: { md: "minmax(0, 1fr) auto" },
    overflow: { xs: "auto", md: "hidden" },
    scrollPaddingBottom: { xs: 76, md: 0 },
    "[data-why-open] &": { pb: { xs: "64vh", md: 0 } },
    "@media print": { display: "block", height: "auto", overflow: "visible" },
  },
  flown: {
    p: 1.5,
    gridRow: { md: "1 / -1" },
    overflow: { xs: "visible", md: "auto" },
    borderRight: { md: `1px solid ${tokens.hairline}` },
  },
  list: { listStyle: "none", p: 0, m: 0, display: "grid", gap: 0.75 },
  name: { fontWeight: 660, fontSize: 14, lineHeight: 1.2 },
  lost: { ...narrow, fontWeight: 680, fontSize: 14 },
  by: {
    gridColumn: "2 / -1",
    fontSize: 12.5,
    color: tokens.slate,
    display: "flex",
    justifyContent: "space-between",
  },
  middle: {
    p: 1.5,
    minWidth: 0,
    gridRow: { md: "1 / -1" },
    display: "grid",
    gridTemplateColumns: "minmax(0, 1fr)",
    gridTemplateRows: { xs: "auto 320px auto", md: "auto minmax(180px, 1fr) auto" },
    gap: 1,
    overflow: { xs: "visible", md: "hidden" },
  },
  traced: {
    gridTemplateRows: {
      xs: "auto 240px 260px auto",
      md: "auto minmax(160px, 0.8fr) minmax(190px, 1fr) auto",
    },
  },
  account: { border: `1px solid ${tokens.hairline}`, p: 1.5, minHeight: 190 },
  decide: { fontSize: 24, fontWeight: 740, lineHeight: 1.15 },
  evidence: { ...narrow, fontSize: 14, color: tokens.slate, mb: 0.8 },
  say: { fontSize: 14.5, lineHeight: 1.3 },
  grade: { px: 0.3, fontSize: 13, lineHeight: 1.1 },
  heights: { display: "grid", gridTemplateColumns: "1fr 1fr 1fr", gap: 1 },
} as const;

/** Of the arrow keys in a number; heights by twenty feet. */
const STEPS: Record<string, number> = { turns: 0.5, most_g: 0.1, rolling_g: 0.1, fastest_ias: 1 };

type Grade = NonNullable<Attempt["grade"]>;
const GRADES: [Grade, CommandName][] = [
  ["Shown", "gradeShown"],
  ["Guided", "gradeGuided"],
  ["Sound", "gradeSound"],
  ["Solo-ready", "gradeSoloReady"],
];

/** On the ground again: flown against planned, where the height went, one thing to say. */
export default function DebriefStage({ work, select, move }: StageProps) {
  const { answer, draft, sortie, change } = work;
  const [chosen, setChosen] = useState<string | null>(null);
  const { attempts, note } = work.notes;
  const attempt = attempts.find((a) => a.id === chosen) ?? attempts[0] ?? null;
  const editable = sortie.may.grade;
  const bounds = useBounds("attempt"),
    feelAtTheEnd = useBounds("debrief")("feel");
  const catalogue = useCatalogue().data;
  const recordings = useRecordings(sortie.id).data ?? [];
  const found = attempt && foundIn(recordings, attempt.id);
  const wrong = (attempt && sortie.doubts[attempt.id]) ?? [];
  const edit = (edits: Edits) => attempt && note(attempt, edits);
  const step = (by: number) => {
    const next = attempts[attempts.findIndex((a) => a.id === attempt?.id) + by];
    if (next) {
      setChosen(next.id);
      select(next.planned.id);
    }
  };
  useCommands({
    next: () => step(1),
    previous: () => step(-1),
    ...Object.fromEntries(
      GRADES.map(([grade, command]) => [
        command,
        () => {
          if (editable) edit({ grade });
        },
      ]),
    ),
  });
  const titleOf = (a: Attempt) => sortie.attempt_titles[a.id] ?? answer.titles[a.planned.id] ?? a.planned.key;
  return (
    <Box sx={styles.page}>
      <Box sx={styles.flown}>
        <Typography variant="h2" sx={{ mb: 1 }}>
          Flown <Box component="span">{attempts.length} attempts</Box>
        </Typography>
        {attempts.length === 0 && (
          <Typography sx={{ color: tokens.slate, fontSize: 14 }}>
            Nothing has been noted yet. Note the heights in Fly.
          </Typography>
        )}
        <Box component="ol" sx={styles.list}>
          {attempts.map((a, i) => (
            <Box component="li" key={a.id}>
              <ButtonBase
                data-print
                aria-current={a.id === attempt?.id || undefined}
                onClick={() => {
                  setChosen(a.id);
                  select(a.planned.id);
                }}
                sx={{
                  width: "100%",
                  textAlign: "left",
                  bgcolor: tokens.sheet,
                  border: `${a.id === attempt?.id ? 2 : 1}px solid ${a.id === attempt?.id ? tokens.plan : tokens.hairline}`,
                  borderRadius: 1,
                  px: 1,
                  py: 0.7,
                  display: "grid",
                  gridTemplateColumns: "18px 1fr auto",
                  columnGap: 0.75,
                }}
              >
                <Box component="span" sx={{ color: tokens.plan, fontWeight: 720 }}>
                  {i + 1}
                </Box>
                <Box component="span" sx={styles.name}>
                  {titleOf(a)}
                </Box>
                <Box component="span" sx={styles.lost}>
                  {heightLost(a)}
                </Box>
                <Box component="span" sx={styles.by}>
                  <span>{a.flown_by}</span>
                  <span>{became(a) || (a.grade ?? "not graded")}</span>
                </Box>
              </ButtonBase>
            </Box>
          ))}
        </Box>
        <Recordings work={work} />
      </Box>
      <Box sx={found ? { ...styles.middle, ...styles.traced } : styles.middle}>
        {!sortie.reached.includes("flown") ? (
          <NotYet work={work} stage="flown" words="Not flown yet. Before the debrief:" />
        ) : (
          <Typography variant="h2">
            Flown against planned{" "}
            <Box component="span" sx={{ fontWeight: 400 }}>
              <b style={{ color: tokens.flown }}>flown</b> solid,{" "}
              <b style={{ color: tokens.plan }}>planned</b> dashed
            </Box>
          </Typography>
        )}
        <HeightStrip
          answer={answer}
          attempts={attempts.filter((a) => !a.skipped)}
          selected={attempt?.planned.id}
          onSelect={(id) => {
            const a = attempts.find((x) => x.planned.id === id);
            if (a) setChosen(a.id);
            select(id);
          }}
        />
        {attempt && found && (
          <AttemptTrace work={work} attempt={attempt} found={found} title={titleOf(attempt)} />
        )}
        <Paper sx={styles.account}>
          <Typography variant="h2" component="h3" sx={{ mb: 0.5 }}>
            Where the height went{attempt ? `: ${titleOf(attempt)}` : ""}
          </Typography>
          {attempt && <Went account={sortie.accounts[attempt.id]} attempt={attempt} />}
        </Paper>
      </Box>
      <Box sx={{ ...column.aside, gap: 1.5 }} tabIndex={-1}>
        {attempt && (
          <>
            <Box>
              <Typography sx={styles.decide}>
                {attempt.skipped ? "Skipped" : (attempt.grade ?? "Which grade?")}
              </Typography>
              <Typography sx={styles.evidence}>{evidence(attempt, sortie.accounts[attempt.id])}</Typography>
              <ToggleButtonGroup
                exclusive
                fullWidth
                value={attempt.grade ?? null}
                disabled={!editable || attempt.skipped}
                aria-label="Grade"
                onChange={(_, grade: Grade | null) => edit({ grade })}
              >
                {GRADES.map(([grade, command]) => (
                  <ToggleButton key={grade} value={grade} sx={styles.grade}>
                    {grade}
                    <Key of={command} />
                  </ToggleButton>
                ))}
              </ToggleButtonGroup>
            </Box>
            <Box>
              <Typography variant="h2" component="h3" sx={{ mb: 0.8 }}>
                As noted
              </Typography>
              <Box key={attempt.id} sx={styles.heights}>
                {(
                  [
                    ["Start", "start_ft"],
                    ["Recover", "recover_ft"],
                    ["Lowest", "lowest_ft"],
                    ["Level", "level_ft"],
                    ["Turns", "turns"],
                    ["Most g", "most_g"],
                    ["Rolling g", "rolling_g"],
                    ["Top speed", "fastest_ias"],
                  ] as const
                ).map(([words, name]) => (
                  <NumberField
                    key={name}
                    label={words}
                    {...bounds(name)}
                    problem={wrong.filter((p) => p.where === name).map((p) => `${p.what}. ${p.do}`)[0]}
                    value={attempt[name] ?? null}
                    optional
                    step={STEPS[name] ?? 20}
                    disabled={!editable}
                    onValue={(v) => edit({ [name]: v })}
                  />
                ))}
              </Box>
            </Box>
            <Beside attempt={attempt} editable={editable} edit={edit} />
            <Became
              attempt={attempt}
              catalogue={catalogue}
              range={bounds("taken_over_ft")}
              editable={editable}
              edit={edit}
            />
            {sortie.accounts[attempt.id] && (
              <Typography sx={styles.say}>
                <b>Say:</b> {sortie.accounts[attempt.id]?.say}
              </Typography>
            )}
            <FaultTicks attempt={attempt} work={work} editable={editable} edit={edit} />
            <LateText
              key={`note ${attempt.id}`}
              label="Note on this attempt"
              multiline
              minRows={1}
              value={attempt.note ?? ""}
              disabled={!editable}
              onValue={(note) => edit({ note })}
            />
          </>
        )}
        <TextField
          label="Note on the flight"
          multiline
          minRows={2}
          value={draft.debrief.note}
          disabled={!editable}
          onChange={(e) =>
            change((d) => ({ ...d, debrief: { ...d.debrief, note: e.target.value } }), "type debrief note")
          }
        />
        <NumberField
          label="Feel at the end"
          {...feelAtTheEnd}
          value={draft.debrief.feel ?? null}
          optional
          disabled={!editable}
          onValue={(feel) => change((d) => ({ ...d, debrief: { ...d.debrief, feel } }))}
        />
        <TextField
          label="Next"
          value={draft.debrief.next}
          disabled={!editable}
          onChange={(e) =>
            change((d) => ({ ...d, debrief: { ...d.debrief, next: e.target.value } }), "type debrief next")
          }
        />
      </Box>
      {sortie.may.move === "debriefed" && (
        <Box sx={column.onward}>
          <Button
            fullWidth
            variant="contained"
            onClick={() => move("debriefed", "sign")}
            sx={{ minHeight: 48 }}
          >
            Debrief done: sign
          </Button>
        </Box>
      )}
    </Box>
  );
}

/** What the grade rests on: what was lost against what was briefed, who flew, and what was ticked. */
function evidence(a: Attempt, account: LossAccount | undefined): string {
  const parts = [
    a.flown_by,
    became(a),
    account && `lost ${account.flown.shown}, briefed ${account.planned.shown}`,
    a.faults.length > 0
      ? `${a.faults.length} fault${a.faults.length > 1 ? "s" : ""} ticked`
      : "no fault ticked",
    a.feel != null && `felt ${a.feel}`,
  ];
  return `${parts.filter(Boolean).join("; ")}.`;
}

function Went({ account, attempt }: { account: LossAccount | undefined; attempt: Attempt }) {
  if (!account)
    return (
      <Typography sx={{ color: tokens.slate }}>
        {attempt.skipped ? "Skipped." : "Note its start and lowest height, and the account appears here."}
      </Typography>
    );
  const bars = [
    {
      part: "As briefed",
      height_ft: account.planned.value,
      shown: account.planned.shown,
      colour: tokens.plan,
    },
    ...account.lines.map((line) => ({ ...line, colour: line.height_ft > 0 ? tokens.mind : tokens.best })),
  ];
  return (
    <HeightAccount
      bars={bars}
      totals={[
        ["Flown", account.flown],
        ["As briefed, from the height flown", account.planned],
      ]}
    />
  );
}
