import { Box, Button, Slider, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import type { FigureAnswer } from "../../api/types";
import { nearestPoint, pointsOf, SideView } from "../../charts/SideView";
import { OutOfWindow } from "../../charts/OutOfWindow";
import { eyeAlong, gateOf } from "../../outside/scenery";
import { Key } from "../../frame/Key";
import { useCommands } from "../../frame/commands";
import { useNear } from "../../frame/useNear";
import { narrow, tokens } from "../../theme";
import { WhyNumber } from "../../why/WhyNumber";
import { sourceWords } from "../../why/source";
import { useCloser } from "../useCloser";
import type { SortieWork } from "../useSortie";

const styles = {
  head: { display: "flex", alignItems: "baseline", gap: 1.5 },
  title: { fontSize: 30, fontWeight: 780, letterSpacing: "-0.015em", lineHeight: 1.1 },
  count: { color: tokens.slate, fontWeight: 640, whiteSpace: "nowrap" },
  purpose: { fontSize: 17, color: tokens.slate, mb: 1 },
  numbers: {
    display: "grid",
    gridTemplateColumns: { xs: "1fr 1fr", sm: "repeat(4, auto)" },
    gap: 1,
    justifyContent: "space-between",
    bgcolor: tokens.sheet,
    border: `1px solid ${tokens.hairline}`,
    px: 2,
    py: 0.8,
    mb: 1,
  },
  halves: {
    display: "grid",
    gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(0, 1fr) minmax(0, 1.18fr)" },
    gap: 2,
  },
  steps: {
    m: 0,
    mt: 0.5,
    pl: 3,
    fontSize: 17.5,
    lineHeight: 1.34,
    "& li::marker": { color: tokens.plan, fontWeight: 720 },
  },
  stopWords: { fontSize: 15, color: tokens.stop, fontWeight: 620, lineHeight: 1.3 },
  player: {
    display: "grid",
    gridTemplateColumns: { xs: "auto minmax(0, 1fr)", sm: "auto minmax(0, 1fr) auto" },
    columnGap: 1.5,
    alignItems: "center",
  },
  clock: { ...narrow, fontSize: 14, minWidth: 178, textAlign: { xs: "left", sm: "right" } },
  moments: {
    display: "grid",
    gridTemplateColumns: { xs: "repeat(2, minmax(0, 1fr))", sm: "repeat(4, minmax(0, 1fr))" },
    gap: 1,
    mt: 0.5,
  },
  faults: { m: 0, pl: 2.2, columns: { xs: 1, sm: 2 }, fontSize: 13.5, lineHeight: 1.35 },
  note: { fontSize: 12.5, color: tokens.slate, lineHeight: 1.25 },
} as const;

interface Props {
  figure: FigureAnswer;
  n: number;
  of: number;
  faultsBefore: string[];
  work: SortieWork;
}

/** One figure: what it is for, its gate, what it looks like, the steps as spoken, what goes wrong, and when the instructor takes over. */
export function FigurePage({ figure, n, of, faultsBefore, work }: Props) {
  const { box, near } = useNear<HTMLDivElement>();
  return (
    <Box component="article" aria-label={figure.title}>
      <Box sx={styles.head}>
        <Typography component="h2" sx={styles.title}>
          {figure.title}
        </Typography>
        <Typography sx={styles.count}>
          {n} of {of}
        </Typography>
      </Box>
      <Typography sx={styles.purpose}>{figure.purpose}</Typography>
      <Box sx={styles.numbers}>
        <Big words="Start at" answer={figure.start} note={`lowest start ${figure.lowest_start.shown}`} />
        <Big
          words="Enter at"
          answer={figure.entry}
          note={[figure.power, figure.attitude].filter(Boolean).join(", ")}
        />
        <Big
          words="My controls at"
          answer={figure.take_over}
          note={`if ${figure.take_over_words}`}
          colour={tokens.mindInk}
        />
        <Big words="Floor" answer={figure.floor} note="level above this" colour={tokens.stop} />
      </Box>
      <Box sx={styles.halves}>
        <Box>
          <Typography variant="h2" component="h3">
            Steps{figure.school && `: ${figure.school.toLowerCase()}`}{" "}
            <Box component="span" sx={{ fontWeight: 400 }}>
              {figure.of_the_manual
                ? figure.school_from.words.replace(/^manual /, "")
                : sourceWords(figure.school_from)}
            </Box>
          </Typography>
          <Box component="ol" sx={styles.steps}>
            {figure.steps.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </Box>
          {figure.spoken && figure.school !== "Flight manual" && (
            <Typography sx={{ fontSize: 15, mt: 0.8 }}>
              <b>Spoken:</b> {figure.spoken}
            </Typography>
          )}
          {figure.school_words && (
            <Typography sx={{ fontSize: 15, mt: 0.5 }}>
              <b>This school:</b> {figure.school_words}
            </Typography>
          )}
          <Typography variant="h2" component="h3" sx={{ mt: 1 }}>
            Stop words
          </Typography>
          {figure.stop_words.map((line) => (
            <Typography key={line} sx={styles.stopWords}>
              {line}
            </Typography>
          ))}
          {figure.own && (
            <Typography sx={{ mt: 1, fontSize: 15 }}>
              <b>You lose here</b> <WhyNumber answer={figure.own.likely} /> as a rule, 19 times in 20 within{" "}
              <WhyNumber answer={figure.own.worst} />; the population{" "}
              <WhyNumber answer={figure.likely} text={figure.likely.number} /> and{" "}
              <WhyNumber answer={figure.own.population_worst} text={figure.own.population_worst.number} />.{" "}
              <Box component="span" sx={styles.note}>
                {figure.own.words}.
              </Box>
            </Typography>
          )}
          {faultsBefore.length > 0 && (
            <Typography sx={{ mt: 1, fontSize: 16 }}>
              <b>Last time:</b> {faultsBefore.join(", ").toLowerCase()}.
            </Typography>
          )}
          <Typography sx={{ mt: 0.8 }}>
            <b>Look at:</b> {figure.look_at}
          </Typography>
        </Box>
        <Box ref={box} sx={{ minWidth: 0, minHeight: 300 }}>
          {near && <Seen figure={figure} work={work} />}
        </Box>
      </Box>
    </Box>
  );
}

/** The side view with the aircraft moving along it, and the view ahead with it. */
function Seen({ figure, work }: { figure: FigureAnswer; work: SortieWork }) {
  const { look } = useCloser(work.sortie.id, work.draft, figure.id);
  const [second, setSecond] = useState(0);
  const [running, setRunning] = useState(false);
  const points = look ? pointsOf(look.side) : [];
  const end = points[points.length - 1]?.seconds ?? 0;
  const still =
    typeof window.matchMedia === "function" && window.matchMedia("(prefers-reduced-motion: reduce)").matches;
  useEffect(() => {
    if (!running) return;
    let frame = 0,
      last: number | null = null;
    const step = (now: number) => {
      const by = last === null ? 0 : (now - last) / 1000;
      last = now;
      setSecond((s) => {
        if (s + by >= end) setRunning(false);
        return Math.min(end, s + by);
      });
      frame = requestAnimationFrame(step);
    };
    frame = requestAnimationFrame(step);
    return () => cancelAnimationFrame(frame);
  }, [running, end]);
  const play = () => {
    if (still) return setSecond(second >= end ? 0 : Math.min(end, second + 1));
    if (second >= end) setSecond(0);
    setRunning(!running);
  };
  useCommands({ play: play });
  if (!look)
    return (
      <Typography role="status" sx={{ color: tokens.slate }}>
        Flying it…
      </Typography>
    );
  const at = Math.max(
    0,
    points.findIndex((p) => p.seconds >= second - 1e-6),
  );
  const here = nearestPoint(points, at);
  const unit = work.answer.envelope.speed_unit;
  const gate = gateOf(work.answer, figure.id);
  const moments = look.side.moments.slice(0, 4);
  return (
    <Box>
      <SideView
        side={look.side}
        title={figure.title}
        unit={unit}
        height={222}
        at={at}
        onMoment={(i) => {
          setRunning(false);
          setSecond(nearestPoint(points, i).seconds);
        }}
        lines={[
          {
            words: `Start ${figure.start.shown}`,
            feet: figure.start.value,
            colour: tokens.plan,
            dashed: true,
          },
          {
            words: `My controls ${figure.take_over.shown}`,
            feet: figure.take_over.value,
            colour: tokens.mindInk,
            dashed: true,
          },
          { words: `Floor ${figure.floor.shown}`, feet: figure.floor.value, colour: tokens.stop },
        ]}
      />
      <Box sx={styles.player}>
        <Button variant="outlined" onClick={play} sx={{ minHeight: 36, py: 0 }}>
          {running ? "Hold" : still ? "Next second" : "Fly it"}
          <Key of="play" />
        </Button>
        <Slider
          size="small"
          aria-label="Seconds"
          min={0}
          max={Math.max(0.1, end)}
          step={0.1}
          value={second}
          onChange={(_, v) => {
            setRunning(false);
            setSecond(v);
          }}
          getAriaValueText={(v) => `${v.toFixed(1)} seconds`}
        />
        <Typography sx={styles.clock}>
          {second.toFixed(1)} s: <b>{feet(here.height)} ft</b>, {Math.round(here.ias)} {unit},{" "}
          {here.g.toFixed(1)} g
        </Typography>
      </Box>
      <Box sx={styles.moments}>
        {running || second > 0 ? (
          <>
            <Box sx={{ gridColumn: "1 / 3" }}>
              <OutOfWindow size={260} eye={eyeAlong(here, gate)} words="Ahead, now" />
            </Box>
            <Box sx={{ gridColumn: "3 / -1", fontSize: 13.5 }}>
              <Goes figure={figure} look={look} />
            </Box>
          </>
        ) : (
          moments.map((m) => {
            const p = nearestPoint(points, m.at);
            return (
              <OutOfWindow
                key={m.at}
                eye={eyeAlong(p, gate)}
                words={`${m.words}, at ${Math.round(p.ias)} ${unit}`}
              />
            );
          })
        )}
      </Box>
      {!running && second === 0 && <Goes figure={figure} look={look} />}
    </Box>
  );
}

/** What goes wrong, the dearest first, in feet. */
function Goes({ look }: { figure: FigureAnswer; look: NonNullable<ReturnType<typeof useCloser>["look"]> }) {
  const dear = look.faults.filter((f) => f.more && f.more.value >= 5).slice(0, 5),
    rest = look.faults.filter((f) => !dear.includes(f)).slice(0, 4);
  return (
    <Box sx={{ mt: 0.6 }}>
      <Typography variant="h2" component="h3">
        What goes wrong
      </Typography>
      <Box component="ul" sx={styles.faults}>
        {dear.map((f) => (
          <li key={f.key} title={`${f.does} Counted as ${f.assumed}.`}>
            {f.words} {f.more && <WhyNumber answer={f.more} text={f.said} sx={{ color: tokens.stop }} />}
          </li>
        ))}
        {rest.map((f) => (
          <li key={f.key} title={f.does}>
            {f.words}
          </li>
        ))}
      </Box>
    </Box>
  );
}

function Big({
  words,
  answer,
  note,
  colour,
}: {
  words: string;
  answer: FigureAnswer["start"];
  note: string;
  colour?: string;
}) {
  return (
    <Box sx={{ minWidth: 0, maxWidth: 210 }}>
      <Typography sx={{ fontSize: 13.5, color: tokens.slate }}>{words}</Typography>
      <WhyNumber
        answer={answer}
        sx={{ ...narrow, fontSize: 28, fontWeight: 760, color: colour ?? tokens.ink, whiteSpace: "nowrap" }}
      />
      <Typography sx={styles.note}>{note}</Typography>
    </Box>
  );
}

function feet(value: number): string {
  return (Math.round(value / 10) * 10).toLocaleString("en");
}
