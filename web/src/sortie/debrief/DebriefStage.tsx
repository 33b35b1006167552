import { Box, Button, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Attempt, FigureFound } from "../../api/types";
import { useCommands } from "../../frame/commands";
import { AsNoted } from "./AsNoted";
import { foundIn, recordingOf } from "./AttemptTrace";
import { Became } from "./Became";
import { Beside } from "./Beside";
import { FaultTicks } from "./FaultTicks";
import { Findings } from "./Findings";
import { FlownAgain, useReplay } from "./FlownAgain";
import { FlownList } from "./FlownList";
import { GradeChoice, gradesFor } from "./GradeChoice";
import { MovingOnStrip } from "./Moving";
import { OwnView } from "./OwnView";
import { Recordings } from "./Recordings";
import { SayOneThing } from "./SayOneThing";
import { WhereItWent } from "./WhereItWent";
import { ShapeFlown } from "../../charts/ShapeFlown";
import { HeightStrip } from "../../strip/HeightStrip";
import { tokens } from "../../theme";
import type { Edits } from "../../notes/entry";
import { useCatalogue, useLook, useRecordings } from "../../api/questions";
import { useBounds } from "../../forms/bounds";
import { LateText } from "../../forms/LateText";
import { NumberField } from "../../forms/NumberField";
import { FEEL_ENDS } from "../../frame/feel";
import { MinutesFlown } from "../MinutesFlown";
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
    gridTemplateColumns: { xs: "minmax(0, 1fr)", lg: "minmax(0, 1.35fr) minmax(0, 1fr)" },
    gridTemplateRows: {
      xs: "auto 240px auto 260px 260px auto",
      md: "auto 150px auto minmax(190px, 1fr) minmax(180px, 1fr) auto",
      lg: "auto minmax(146px, 0.7fr) auto minmax(170px, 1fr) minmax(150px, 0.9fr)",
    },
    overflow: { xs: "visible", md: "auto", lg: "hidden" },
  },
  wide: { gridColumn: "1 / -1", minWidth: 0, display: "grid" },
} as const;

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
  const recording = attempt && recordingOf(recordings, attempt.id);
  const found = attempt && foundIn(recordings, attempt.id);
  const { trace, replay } = useReplay(sortie.id, found ? attempt.id : null);
  const saved = sortie.attempts.find((a) => a.id === attempt?.id);
  const look = useLook(sortie.id, saved?.id, stampOf(saved, found));
  const technique = look.data?.technique;
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
      (attempt && editable && !attempt.skipped ? gradesFor(attempt, catalogue) : []).map(
        ([grade, command]) => [command, () => edit({ grade })],
      ),
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
        <FlownList
          attempts={attempts}
          chosen={attempt?.id}
          titleOf={titleOf}
          onChoose={(a) => {
            setChosen(a.id);
            select(a.planned.id);
          }}
        />
        <Recordings work={work} />
      </Box>
      <Box sx={found ? { ...styles.middle, ...styles.traced } : styles.middle}>
        {!sortie.reached.includes("flown") ? (
          <Box sx={styles.wide}>
            <NotYet work={work} stage="flown" words="Not flown yet. Before the debrief:" />
          </Box>
        ) : (
          <Typography variant="h2" sx={styles.wide}>
            <span>
              Flown against planned{" "}
              <Box component="span" sx={{ fontWeight: 400 }}>
                <b style={{ color: tokens.flown }}>flown</b> solid,{" "}
                <b style={{ color: tokens.plan }}>planned</b> dashed
              </Box>
            </span>
          </Typography>
        )}
        <Box sx={styles.wide}>
          <HeightStrip
            answer={answer}
            attempts={attempts.filter((a) => !a.skipped)}
            selected={attempt?.planned.id}
            onSelect={(id) => {
              const a = attempts.find((x) => x.planned.id === id);
              if (a) setChosen(a.id);
              select(id);
            }}
            over={(on) =>
              trace &&
              found && (
                <MovingOnStrip
                  replay={replay}
                  trace={trace}
                  figure={attempt.planned.id}
                  ends_s={found.measured.ends_s - found.measured.begins_s}
                  on={on}
                />
              )
            }
          />
        </Box>
        {attempt && recording && (
          <FlownAgain
            key={attempt.id}
            work={work}
            attempt={attempt}
            attempts={attempts}
            recordings={recordings}
            recording={recording}
            trace={trace}
            replay={replay}
            technique={technique}
            waiting={look.isPending}
            titleOf={titleOf}
          />
        )}
        <WhereItWent
          attempt={attempt}
          title={attempt ? titleOf(attempt) : ""}
          briefed={attempt ? sortie.accounts[attempt.id] : undefined}
          technique={technique}
          beside={found !== null}
          waiting={look.isLoading}
        />
      </Box>
      <Box sx={{ ...column.aside, gap: 1.5 }} tabIndex={-1}>
        {attempt && (
          <>
            {look.data?.advice && (
              <SayOneThing
                key={`say ${attempt.id}`}
                attempt={attempt}
                advice={look.data.advice}
                editable={editable}
                edit={edit}
                onSheet={draft.debrief.one_thing}
                toSheet={(one_thing) =>
                  change((d) => ({ ...d, debrief: { ...d.debrief, one_thing } }), "choose the one thing")
                }
              />
            )}
            {!look.data?.advice && sortie.accounts[attempt.id]?.say && (
              <Typography sx={{ fontSize: 14.5 }}>
                <b>Said then:</b> {sortie.accounts[attempt.id]?.say}
              </Typography>
            )}
            {technique?.recorded && (
              <Findings
                attempt={attempt}
                faults={technique.faults}
                editable={editable}
                edit={edit}
                onGo={trace ? (at) => replay.seek(at + technique.begins_s) : undefined}
              />
            )}
            {found?.measured.shape && (
              <ShapeFlown shape={found.measured.shape} meant={found.measured.meant ?? null} />
            )}
            <OwnView
              catalogue={catalogue}
              key={`own ${attempt.id}`}
              attempt={attempt}
              student={sortie.student}
              may={sortie.may}
              done={sortie.reached.includes("debriefed")}
              edit={edit}
            />
            {!attempt.skipped && (editable || attempt.grade || look.data?.proposal) && (
              <GradeChoice
                catalogue={catalogue}
                attempt={attempt}
                proposal={look.data?.proposal ?? null}
                editable={editable}
                edit={edit}
              />
            )}
            <AsNoted
              attempt={attempt}
              doubts={sortie.doubts[attempt.id] ?? []}
              editable={editable}
              edit={edit}
            />
            <Beside attempt={attempt} editable={editable} edit={edit} />
            <Became
              attempt={attempt}
              catalogue={catalogue}
              range={bounds("taken_over_ft")}
              editable={editable}
              edit={edit}
            />
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
          label={`Feel at the end, ${FEEL_ENDS}`}
          {...feelAtTheEnd}
          value={draft.debrief.feel ?? null}
          optional
          disabled={!editable}
          onValue={(feel) => change((d) => ({ ...d, debrief: { ...d.debrief, feel } }))}
        />
        <MinutesFlown work={work} />
        <LateText
          label="One thing, on the student's sheet"
          multiline
          minRows={1}
          value={draft.debrief.one_thing}
          disabled={!editable}
          slotProps={{ htmlInput: { maxLength: 400 } }}
          onValue={(one_thing) =>
            change((d) => ({ ...d, debrief: { ...d.debrief, one_thing } }), "type the one thing")
          }
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

/** Changes when something changed that the second look is made of. */
function stampOf(a: Attempt | undefined, found: FigureFound | null): string {
  return a ? JSON.stringify([{ ...a, note: "", grade: null, said: "" }, found?.measured]) : "";
}
