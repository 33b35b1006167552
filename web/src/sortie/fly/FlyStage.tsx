import { Box, Button } from "@mui/material";
import { useMemo, useRef, useState } from "react";
import type { Attempt, PlannedFigure } from "../../api/types";
import { useCatalogue } from "../../api/questions";
import type { Mark } from "../../device/recorder";
import { useCommands } from "../../frame/commands";
import { Empty } from "../../frame/states";
import { lastGo, nextGo, type Edits, type Go } from "../../notes/entry";
import { tokens } from "../../theme";
import { NotYet, type StageProps } from "../stage";
import { budgetOf } from "./budget";
import { BudgetLine } from "./BudgetLine";
import { FigureList } from "./FigureList";
import { flyFigures, mirrored, titleOf, unplanned, type FlyFigure } from "./figures";
import { beganAt, headedFor, soFar } from "./flown";
import { Gate } from "./Gate";
import { HeightKey } from "./HeightKey";
import { Landed } from "./Landed";
import { LiveStrip } from "./LiveStrip";
import { MorePanel } from "./MorePanel";
import { FeelPad, WentPad } from "./Pads";
import { editsOf, goThatBegins, isRecorders } from "./recorded";
import { StepBar } from "./StepBar";
import { heightAt, isHeight, nextStep, preset, STEP_WORDS, type Step } from "./steps";
import { Stops } from "./Stops";
import { Tape } from "./Tape";
import { useAwake } from "./useAwake";
import { useMinute } from "./useMinute";
import { useRecorder } from "./useRecorder";
import { WhoKey } from "./WhoKey";

const styles = {
  whole: { height: "100%", overflow: "auto", bgcolor: tokens.sheet },
  page: {
    minHeight: "100%",
    // Beside the list, which scrolls, everything that is tapped stays where it is.
    height: { md: "100%" },
    maxWidth: 1240,
    mx: "auto",
    p: { xs: 1.25, sm: 2 },
    boxSizing: "border-box",
    display: "grid",
    gap: 1,
    gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(0, 1fr) minmax(0, 1.15fr)" },
    gridTemplateRows: {
      xs: "auto auto auto minmax(190px, 1fr) auto auto",
      md: "auto auto minmax(190px, 1fr) auto auto",
    },
    columnGap: 3,
  },
  budget: { gridColumn: "1 / -1" },
  gate: { gridRow: { md: "2 / -1" }, gridColumn: { md: 1 }, minHeight: 0, overflow: { md: "auto" } },
  right: { gridColumn: { md: 2 }, minWidth: 0, minHeight: 0 },
  main: { display: "grid", gridTemplateColumns: "92px minmax(0, 1fr)", gap: 1.25 },
  keys: { display: "grid", gridTemplateColumns: "1.25fr 1fr", gap: 1.25 },
  mine: {
    minHeight: 84,
    border: `4px solid ${tokens.mind}`,
    bgcolor: tokens.mindPale,
    color: tokens.ink,
    fontSize: 22,
    lineHeight: 1.1,
    flexDirection: "column",
    "&:hover": { bgcolor: tokens.mindPale },
  },
  next: {
    minHeight: 84,
    border: `3px solid ${tokens.ink}`,
    color: tokens.ink,
    fontSize: 22,
    lineHeight: 1.1,
    flexDirection: "column",
  },
  small: { fontSize: 14, fontWeight: 560, color: tokens.slate },
  bottom: {
    display: "grid",
    gridTemplateColumns: "0.6fr 0.8fr 1fr 0.8fr 0.7fr 1.5fr",
    "& .MuiButton-root": { minHeight: 64, minWidth: 0, px: 0.5, fontSize: 15.5, lineHeight: 1.1 },
  },
} as const;

/** In the air: one figure, one hand, ten seconds. */
export default function FlyStage(props: StageProps) {
  const { work, select, move, go } = props;
  const { attempts, entries, note, loaded } = work.notes;
  const catalogue = useCatalogue().data;
  const [added, setAdded] = useState<PlannedFigure[]>([]);
  /** The figure that is looked at; until one was chosen, where the flight is. */
  const [here, setHere] = useState<string | null>(null);
  if (here === null && loaded) {
    const setUps = work.answer.drawn?.set_ups.map((one) => one.planned) ?? [];
    setHere(whereItIs([...work.draft.plan.figures, ...setUps], attempts));
  }
  const [goes, setGoes] = useState<Record<string, Go>>({});
  const [chosen, setChosen] = useState<{ of: string; step: Step } | null>(null);
  const [sliding, setSliding] = useState<number | null>(null);
  const [more, setMore] = useState(false);
  const flownAlready = work.sortie.reached.includes("flown");
  const [landed, setLanded] = useState(flownAlready);
  useAwake();
  const now = useMinute();
  const began = useMemo(() => beganAt(entries), [entries]);
  const figures = useMemo(() => {
    const found = flyFigures(work.draft.plan.figures, work.answer, attempts, catalogue);
    const there = new Set(found.map((f) => f.planned.id));
    const open = added.filter((p) => !there.has(p.id));
    return [...found, ...open.map((p) => unplanned(p, work.answer, catalogue))];
  }, [work.draft.plan.figures, work.answer, attempts, catalogue, added]);
  const at = Math.max(
    0,
    figures.findIndex((f) => f.planned.id === here),
  );
  const figure = figures[at];
  const choose = (id: string) => {
    setHere(id);
    select(id);
    setChosen(null);
    setSliding(null);
  };
  const stepBy = (by: number) => {
    const to = figures[at + by];
    if (to) choose(to.planned.id);
  };
  useCommands({ next: () => stepBy(1), previous: () => stepBy(-1) });
  const goOfMark = useRef(new Map<number, Go>());
  const onMark = (mark: Mark) => {
    if (!figure) return;
    const looked = goes[figure.planned.id] ?? lastGo(attempts, figure.planned);
    let its = goOfMark.current.get(mark.figure);
    if (!its || mark.kind === "begins") {
      its = goThatBegins(figures, looked, attempts, entries);
      const { planned } = its;
      goOfMark.current.set(mark.figure, its);
      setGoes((all) => ({ ...all, [planned.id]: its }) as Record<string, Go>);
      if (planned.id !== figure.planned.id) choose(planned.id);
    }
    work.notes.noteRecorded(its, editsOf(mark));
  };
  const recorder = useRecorder(
    work.sortie.stage === "briefed" && work.sortie.may.note,
    { qnh_hpa: work.draft.plan.day.qnh_hpa ?? null, speed_unit: work.sortie.speed_unit },
    onMark,
  );
  if (!figure) return <Empty>There is nothing to fly in this plan.</Empty>;

  if (landed)
    return (
      <Landed
        work={work}
        figures={figures}
        catalogue={catalogue}
        onBack={() => setLanded(false)}
        onDone={() => (flownAlready ? go("debrief") : move("flown", "debrief"))}
      />
    );
  const editable = work.sortie.may.note;
  const current = goes[figure.planned.id] ?? lastGo(attempts, figure.planned);
  const attempt = attempts.find((a) => a.id === current.id) ?? null;
  const flown = attempt?.planned ?? current.planned;
  const active = chosen?.of === current.id ? chosen.step : nextStep(attempt);
  /** Whoever touches the screen works on the figure it shows: entries that the device reads late do not move it on. */
  const stay = () => setHere(figure.planned.id);
  const edit = (edits: Edits, offered: readonly string[] = []) =>
    note({ ...current, planned: flown }, edits, offered);
  const stepTo = (step: Step | null) => {
    setChosen(step && { of: current.id, step });
    setSliding(null);
  };
  /** Noted, and on to the next key. */
  const take = (edits: Edits, offered: readonly string[] = []) => {
    edit(edits, offered);
    stepTo(null);
  };
  const other = (planned: PlannedFigure) => {
    const next = attempt ? nextGo(attempts, figure.planned) : current;
    setGoes((all) => ({ ...all, [figure.planned.id]: { ...next, planned } }));
    stepTo(null);
  };
  const next = figures[at + 1];
  const title = titleOf(figure, flown);
  const number = goNumber(attempts, current, figure);
  const goal = headedFor(figures, at, attempt)?.planned.id ?? null;
  const budget = budgetOf(work.answer, attempts, goal, began, now);
  const stands = isHeight(active) ? heightAt(attempt, active) : null;
  const noted = stands !== null;
  /** Nobody has read off what stands on the key. */
  const unread = stands === null || (attempt?.offered.includes(active) ?? false);
  const heard = isHeight(active) && isRecorders(entries, attempt, active);
  /** The key stays under the thumb, whatever the recorder finds meanwhile. */
  const slide = (ft: number | null) => {
    setSliding(ft);
    if (ft !== null) setChosen({ of: current.id, step: active });
  };
  const height = sliding ?? stands ?? (isHeight(active) ? preset(figure, attempt, active) : 0);
  return (
    <Box sx={styles.whole} onPointerDownCapture={stay} onClickCapture={stay} onKeyDownCapture={stay}>
      <Box sx={styles.page}>
        <Box sx={styles.budget}>
          {!work.sortie.reached.includes("briefed") && (
            <NotYet work={work} stage="briefed" words="Not briefed yet. Before anything can be noted here:" />
          )}
          <BudgetLine
            budget={budget}
            soFar={soFar(attempts)}
            waiting={work.notes.waiting}
            sent={work.notes.count - work.notes.waiting}
          />
          <LiveStrip
            recorder={recorder}
            qnh={work.draft.plan.day.qnh_hpa ?? null}
            floor={(figure.answer?.floor ?? work.answer.floor).value}
          />
        </Box>
        <Box sx={styles.gate}>
          <Gate
            figure={figure}
            title={number > 1 ? `${title}, go ${number}` : title}
            place={placeOf(figures, at)}
          />
          <Box sx={{ display: { xs: "none", md: "block" }, mt: 1.5 }}>
            <FigureList figures={figures} attempts={attempts} current={figure.planned.id} onChoose={choose} />
          </Box>
        </Box>
        <Box sx={styles.right}>
          <StepBar attempt={attempt} active={active} onStep={stepTo} />
        </Box>
        <Box sx={{ ...styles.right, ...(isHeight(active) && styles.main) }}>
          {isHeight(active) && (
            <>
              <Tape
                at={height}
                noted={noted}
                start={active === "start_ft" ? null : (attempt?.start_ft ?? null)}
                planned={preset(figure, attempt, "lowest_ft")}
                floor={(figure.answer?.floor ?? work.answer.floor).value}
                takeOver={(figure.answer?.take_over ?? work.answer.floor).value}
                top={work.answer.block_top.value}
                label={STEP_WORDS[active]}
                disabled={!editable}
                onSlide={slide}
                onTake={(ft) => take({ [active]: ft })}
              />
              <HeightKey
                step={active}
                ft={height}
                noted={noted && sliding === null}
                heard={heard}
                disabled={!editable}
                onSlide={slide}
                onTake={(ft, asOffered) => take({ [active]: ft }, asOffered && unread ? [active] : [])}
              />
            </>
          )}
          {active === "feel" && <FeelPad attempt={attempt} disabled={!editable} edit={take} />}
          {active === "went" && (
            <WentPad
              key={current.id}
              figure={figure}
              usual={work.sortie.earlier_faults[figure.planned.key] ?? []}
              attempt={attempt}
              disabled={!editable}
              edit={edit}
            />
          )}
        </Box>
        <Box sx={{ ...styles.right, ...styles.keys }}>
          <Button
            disabled={!editable}
            sx={styles.mine}
            onClick={() => {
              if (attempt?.taken_over_ft == null)
                edit({ taken_over_ft: preset(figure, attempt, "taken_over_ft") }, ["taken_over_ft"]);
              stepTo("taken_over_ft");
            }}
          >
            My controls
            <Box component="span" sx={styles.small}>
              {attempt?.taken_over_ft == null
                ? "taken over now"
                : `at ${attempt.taken_over_ft.toLocaleString("en")}`}
            </Box>
          </Button>
          {next ? (
            <Button sx={styles.next} onClick={() => stepBy(1)}>
              Next ›
              <Box component="span" sx={styles.small}>
                {next.title}
              </Box>
            </Button>
          ) : (
            <Button sx={styles.next} onClick={() => setLanded(true)}>
              Landed ›
              <Box component="span" sx={styles.small}>
                {attempts.length} noted
              </Box>
            </Button>
          )}
        </Box>
        <Box sx={{ ...styles.right, ...styles.bottom }}>
          <Button
            disabled={at === 0}
            onClick={() => stepBy(-1)}
            aria-label={`Back to ${figures[at - 1]?.title ?? "the first"}`}
          >
            ‹ {at > 0 ? at : ""}
          </Button>
          <Button disabled={!editable || !attempt} onClick={() => other(figure.planned)}>
            Again
          </Button>
          <Button
            disabled={!editable || figure.otherSide === null}
            onClick={() => other(mirrored(attempt ? flown : current.planned))}
          >
            Other side
          </Button>
          <Button disabled={!work.canUndo} onClick={work.undo}>
            Undo
          </Button>
          <Button onClick={() => setMore(true)}>List</Button>
          <WhoKey
            who={attempt?.flown_by ?? flown.flown_by}
            all={catalogue?.flown_by ?? [flown.flown_by]}
            disabled={!editable}
            onWho={(flown_by) => edit({ flown_by })}
          />
        </Box>
      </Box>
      <MorePanel
        open={more}
        figures={figures}
        current={figure}
        about={current.id}
        title={title}
        attempt={attempt}
        attempts={attempts}
        catalogue={catalogue}
        editable={editable}
        onClose={() => setMore(false)}
        onChoose={choose}
        onAdd={(one) => {
          setAdded((all) => [...all, one]);
          choose(one.id);
        }}
        onLeave={() => go("brief")}
        onLand={() => setLanded(true)}
        edit={edit}
      />
      {work.sortie.stage === "briefed" && (
        <Stops
          key={current.id}
          figures={figures}
          notes={work.notes}
          minutes={budget?.minutes ?? null}
          onWrong={(attempt, step) => {
            choose(attempt.planned.id);
            setGoes((all) => ({ ...all, [attempt.planned.id]: attempt }));
            setChosen({ of: attempt.id, step });
          }}
        />
      )}
    </Box>
  );
}

/** The figure that was begun last, or the one after it where all of it is noted. */
function whereItIs(planned: readonly PlannedFigure[], attempts: readonly Attempt[]): string {
  const last = attempts.at(-1);
  const at = planned.findIndex((f) => f.id === last?.planned.id);
  if (!last || (nextStep(last) !== "went" && !last.skipped)) return last?.planned.id ?? planned[0]?.id ?? "";
  return (at >= 0 && planned[at + 1]?.id) || last.planned.id;
}

/** Where it stands in the flight, in words. */
function placeOf(figures: readonly FlyFigure[], at: number): string {
  const figure = figures[at];
  const like = figures.filter((f) => f.answer && !f.setUp === !figure?.setUp);
  const n = like.findIndex((f) => f === figure) + 1;
  if (n === 0) return "not planned";
  return `${figure?.setUp ? "eyes closed, " : ""}${n} of ${like.length}`;
}

/** Which go at its figure this is, from 1. */
function goNumber(attempts: StageProps["work"]["notes"]["attempts"], current: Go, figure: FlyFigure): number {
  const of = attempts.filter((a) => a.planned.id === figure.planned.id).map((a) => a.id);
  return of.includes(current.id) ? of.indexOf(current.id) + 1 : of.length + 1;
}
