import { Box, Button, Typography, useMediaQuery, type Theme } from "@mui/material";
import { useRef, useState } from "react";
import { useOutletContext } from "react-router";
import { usePlaces } from "../../api/questions";
import type { Person } from "../../api/types";
import { PlanView } from "../../charts/PlanView";
import { Key } from "../../frame/Key";
import { useCommands } from "../../frame/commands";
import { Empty } from "../../frame/states";
import { HeightStrip } from "../../strip/HeightStrip";
import { tokens } from "../../theme";
import { WhyNumber } from "../../why/WhyNumber";
import { column, NotYet, type StageProps } from "../stage";
import { BeforeLesson } from "./BeforeLesson";
import { FigurePage } from "./FigurePage";
import { KneeCard } from "./KneeCard";
import { BeforeFlight, Reading, ReadIt } from "./Reading";
import { WordsPage } from "./WordsPage";

const styles = {
  page: {
    height: "100%",
    display: { xs: "block", md: "grid" },
    gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(0, 1fr) 318px" },
    gridTemplateRows: { md: "minmax(0, 1fr) auto" },
    overflow: { xs: "auto", md: "hidden" },
    scrollPaddingBottom: { xs: 76, md: 0 },
    "[data-why-open] &": { pb: { xs: "64vh", md: 0 } },
    "@media print": { display: "none" },
  },
  sheet: {
    p: { xs: 1.5, md: 2 },
    gridRow: { md: "1 / -1" },
    overflow: { xs: "visible", md: "auto" },
    minWidth: 0,
    display: "flex",
    flexDirection: "column",
    bgcolor: tokens.paper,
    "&:fullscreen": { p: 4, zoom: 1.35 },
  },
  pages: {
    display: "flex",
    alignItems: "center",
    gap: 0.4,
    mb: 1,
    flexWrap: "wrap",
    "& .MuiButton-root": { minWidth: 36, minHeight: 44, px: 0.9, py: 0 },
  },
  actions: { display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1, mt: 1.5 },
  overview: {
    height: { md: "100%" },
    display: "grid",
    gridTemplateColumns: "minmax(0, 1fr)",
    gridTemplateRows: { xs: "auto auto", md: "auto minmax(220px, 1fr)" },
    gap: 1,
  },
  title: { fontSize: 30, fontWeight: 780, letterSpacing: "-0.015em", lineHeight: 1.1 },
  halves: {
    display: "grid",
    gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(0, 1.9fr) minmax(0, 1fr)" },
    gridTemplateRows: { xs: "340px auto", md: "minmax(0, 1fr)" },
    gap: 2,
    minHeight: 0,
  },
} as const;

/** The half hour before: the whole flight, one figure a page, then the words. For a screen across the table, and for the student alone. */
export default function BriefStage({ work, selected, select, move, go }: StageProps) {
  const { answer, sortie } = work;
  const person = useOutletContext<Person>();
  const whole = useRef<HTMLDivElement>(null);
  const figures = answer.figures,
    words = sortie.brief_pages;
  // Page 0 is the whole flight; then the figures; then the words.
  const [extra, setExtra] = useState<number | null>(0);
  const chosen = Math.max(
    0,
    figures.findIndex((f) => f.id === selected),
  );
  const page = extra ?? 1 + chosen,
    last = figures.length + words.length;
  const turn = (to: number) => {
    const next = Math.max(0, Math.min(last, to)),
      figure = figures[next - 1];
    setExtra(next === 0 || next > figures.length ? next : null);
    if (next > 0 && figure) select(figure.id);
  };
  const present = () => {
    if (document.fullscreenElement) void document.exitFullscreen();
    else void whole.current?.requestFullscreen();
  };
  useCommands({
    turnPage: () => turn(page + 1),
    turnBack: () => turn(page - 1),
    firstPage: () => turn(0),
    print: () => window.print(),
    fullScreen: present,
  });
  const touched = useRef<{ x: number; y: number } | null>(null);
  // A finger drawn across turns the page; one drawn down scrolls.
  const swipe = {
    onTouchStart: (e: React.TouchEvent) => {
      const t = e.touches[0],
        held = (e.target as Element).closest(".MuiSlider-root, [role=slider]");
      touched.current = t && !held ? { x: t.clientX, y: t.clientY } : null;
    },
    onTouchEnd: (e: React.TouchEvent) => {
      const t = e.changedTouches[0],
        from = touched.current;
      if (
        !t ||
        !from ||
        Math.abs(t.clientX - from.x) < 60 ||
        Math.abs(t.clientX - from.x) < 2 * Math.abs(t.clientY - from.y)
      )
        return;
      turn(page + (t.clientX < from.x ? 1 : -1));
    },
  };
  const editable = sortie.may.plan;
  // On a phone there are no pages: one column is read to its end.
  const inOneColumn = useMediaQuery((theme: Theme) => theme.breakpoints.down("sm"));
  const fliesNow = sortie.reached.includes("briefed") && person.role !== "student";
  const onward =
    sortie.may.move === "briefed" ? (
      <>
        {answer.stops > 0 && <NotYet work={work} stage="briefed" words="The brief cannot be finished yet." />}
        <Button variant="contained" disabled={work.stale !== null} onClick={() => move("briefed", "fly")}>
          Briefed: fly
        </Button>
      </>
    ) : fliesNow ? (
      <Button variant="contained" onClick={() => go("fly")}>
        Fly
      </Button>
    ) : sortie.may.read ? (
      <ReadIt work={work} last={inOneColumn || page === last} onNext={() => turn(page + 1)} />
    ) : null;
  const figure = page > 0 ? figures[page - 1] : undefined,
    said = words[page - figures.length - 1];
  return (
    <>
      <Box sx={styles.page}>
        <Box ref={whole} tabIndex={-1} {...swipe} sx={styles.sheet}>
          <Box
            component="nav"
            aria-label="Pages"
            sx={{ ...styles.pages, display: inOneColumn ? "none" : "flex" }}
          >
            <Button disabled={page === 0} onClick={() => turn(page - 1)} aria-label="‹ previous page k">
              ‹<Key of="turnBack" />
            </Button>
            <Button
              variant={page === 0 ? "contained" : "text"}
              aria-current={page === 0 ? "page" : undefined}
              onClick={() => turn(0)}
            >
              The flight
            </Button>
            {figures.map((f, i) => (
              <Button
                key={f.id}
                variant={page === i + 1 ? "contained" : "text"}
                aria-current={page === i + 1 ? "page" : undefined}
                aria-label={`${i + 1} ${f.title}`}
                onClick={() => turn(i + 1)}
              >
                {i + 1}
              </Button>
            ))}
            {words.map((w, i) => (
              <Button
                key={w.key}
                variant={page === figures.length + 1 + i ? "contained" : "text"}
                aria-current={page === figures.length + 1 + i ? "page" : undefined}
                onClick={() => turn(figures.length + 1 + i)}
              >
                {w.title.split(" ")[0]}
              </Button>
            ))}
            <Button disabled={page === last} onClick={() => turn(page + 1)} aria-label="› next page j">
              ›<Key of="turnPage" />
            </Button>
          </Box>
          <Box sx={{ flex: 1, minHeight: 0 }}>
            {inOneColumn && <InOneColumn work={work} onFigure={(id) => select(id)} />}
            {!inOneColumn && figures.length === 0 && page === 0 && (
              <Empty>The plan has no figures that this aircraft can fly. Go back to Plan and add one.</Empty>
            )}
            {!inOneColumn && page === 0 && figures.length > 0 && (
              <WholeFlight work={work} onFigure={(id) => turn(figures.findIndex((f) => f.id === id) + 1)} />
            )}
            {!inOneColumn && figure && (
              <FigurePage
                key={figure.id}
                figure={figure}
                n={page}
                of={figures.length}
                faultsBefore={sortie.earlier_faults[figure.key] ?? []}
                work={work}
              />
            )}
            {!inOneColumn && said && <WordsPage page={said} />}
          </Box>
        </Box>
        <Box tabIndex={-1} sx={column.aside}>
          <BeforeLesson answer={answer} />
          <Reading work={work} person={person} figure={figure?.id ?? ""} />
          {person.role !== "student" && <BeforeFlight work={work} editable={editable} />}
          <Box sx={styles.actions}>
            <Button variant="outlined" onClick={present}>
              Full screen
              <Key of="fullScreen" />
            </Button>
            <Button variant="outlined" onClick={() => window.print()}>
              Print card
              <Key of="print" />
            </Button>
            <Button
              variant="outlined"
              component="a"
              href={`/api/sorties/${sortie.id}/card.pdf`}
              sx={{ gridColumn: "1 / -1" }}
            >
              Card as PDF
            </Button>
          </Box>
        </Box>
        {onward && <Box sx={column.onward}>{onward}</Box>}
      </Box>
      <KneeCard work={work} />
    </>
  );
}

/** Every page, one under the other. */
function InOneColumn({ work, onFigure }: { work: StageProps["work"]; onFigure: (id: string) => void }) {
  const { answer, sortie } = work;
  return (
    <Box sx={{ display: "grid", gap: 3, gridTemplateColumns: "minmax(0, 1fr)" }}>
      {answer.figures.length > 0 && <WholeFlight work={work} onFigure={onFigure} />}
      {answer.figures.map((figure, i) => (
        <FigurePage
          key={figure.id}
          figure={figure}
          n={i + 1}
          of={answer.figures.length}
          faultsBefore={sortie.earlier_faults[figure.key] ?? []}
          work={work}
        />
      ))}
      {sortie.brief_pages.map((page) => (
        <WordsPage key={page.key} page={page} />
      ))}
    </Box>
  );
}

/** The first page: what the flight is for, the whole strip, and the place from above. */
function WholeFlight({ work, onFigure }: { work: StageProps["work"]; onFigure: (id: string) => void }) {
  const { answer, sortie, draft } = work;
  const places = usePlaces();
  const place = places.data?.find((p) => p.id === draft.place_id)?.place;
  const { day } = draft.plan;
  return (
    <Box sx={styles.overview}>
      <Box>
        <Typography component="h2" sx={styles.title}>
          {sortie.lesson_name}
        </Typography>
        <Typography sx={{ fontSize: 17, color: tokens.slate }}>{sortie.lesson_purpose}</Typography>
        <Typography sx={{ fontSize: 16, mt: 0.5 }}>
          {answer.figures.length} figures, <WhyNumber answer={answer.minutes} />. Floor{" "}
          <WhyNumber answer={answer.floor} sx={{ color: tokens.stop }} />,{" "}
          {answer.block_top.label.toLowerCase()} <WhyNumber answer={answer.block_top} />
          {answer.leave && (
            <>
              , leave the aircraft at <WhyNumber answer={answer.leave} sx={{ color: tokens.stop }} />
            </>
          )}
          . Work along <WhyNumber answer={answer.drift.work_along} />. {answer.unseen}
        </Typography>
      </Box>
      <Box sx={styles.halves}>
        <HeightStrip answer={answer} onSelect={onFigure} />
        {place && (
          <Box sx={{ minHeight: 0, overflow: "auto" }} tabIndex={-1}>
            <PlanView
              place={place}
              answer={answer}
              windFrom={day.wind_from_deg ?? null}
              windKt={day.wind_kt ?? null}
              onSelect={onFigure}
            />
          </Box>
        )}
      </Box>
    </Box>
  );
}
