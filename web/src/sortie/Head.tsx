/** The head of a sortie: whose it is, what of it is stored, undo, and its five stages. */
import { Box, Button, Typography } from "@mui/material";
import { memo, type RefObject } from "react";
import { Link } from "react-router";
import type { Person, Stage } from "../api/types";
import type { Typed } from "../forms/typed";
import { dayAndTime } from "../frame/dates";
import { Key } from "../frame/Key";
import { narrow, tokens, unseen } from "../theme";
import { More } from "./More";
import { STAGE_WORDS, STAGES, type StageName } from "./stage";
import type { SortieWork } from "./useSortie";

const styles = {
  head: {
    display: "flex",
    alignItems: "center",
    columnGap: { xs: 1, lg: 2 },
    px: { xs: 1, md: 1.5, lg: 2.5 },
    minHeight: 50,
    flex: "none",
    flexWrap: { xs: "wrap", md: "nowrap" },
    borderBottom: `1px solid ${tokens.hairline}`,
    bgcolor: tokens.sheet,
  },
  back: {
    display: { xs: "block", md: "none" },
    color: tokens.plan,
    fontWeight: 650,
    textDecoration: "none",
    lineHeight: "44px",
  },
  titleLine: { flex: { xs: "1 1 250px", md: 1 }, minWidth: 0, lineHeight: 1.2, py: 0.4 },
  title: { fontSize: 15, fontWeight: 720, lineHeight: 1.2 },
  whose: { ...narrow, color: tokens.slate, fontSize: 13, display: "block" },
  kept: { display: "flex", alignItems: "center", gap: 0.5, "@media print": { display: "none" } },
} as const;

const DONE: Record<Stage, number> = { planned: 0, briefed: 2, flown: 3, debriefed: 4, signed: 5 };

interface HeadProps {
  work: SortieWork;
  person: Person;
  stage: StageName;
  go: (stage: StageName) => void;
  undo: () => void;
  redo: () => void;
  typed: Typed[];
  heading: RefObject<HTMLHeadingElement | null>;
  onConflict: () => void;
}

export const Head = memo(function Head({
  work,
  person,
  stage,
  go,
  undo,
  redo,
  typed,
  heading,
  onConflict,
}: HeadProps) {
  const { sortie } = work;
  return (
    // The card of the brief has a head of its own. In Fly a phone and an upright tablet show the flight and nothing else.
    <Box
      sx={{
        ...styles.head,
        display: { xs: stage === "fly" ? "none" : "flex", md: "flex" },
        "@media print": { display: stage === "brief" ? "none" : "flex" },
      }}
    >
      <Box component={Link} to="/" sx={styles.back}>
        ‹ Today
      </Box>
      <Box sx={styles.titleLine}>
        <Typography component="h1" ref={heading} tabIndex={-1} sx={styles.title}>
          <Box component="span" sx={unseen}>
            {STAGE_WORDS[stage]}:{" "}
          </Box>
          {sortie.lesson_name}
        </Typography>
        <Box component="span" sx={styles.whose}>
          <b>{sortie.student}</b> · {sortie.aircraft} · {dayAndTime(sortie.planned_for)}
          {sortie.may.save ? "" : ` · ${sortie.instructor}`}
        </Box>
      </Box>
      <More work={work} person={person} />
      <SaveWords work={work} undo={undo} redo={redo} typed={typed} onConflict={onConflict} />
      <StageBar stage={stage} done={DONE[sortie.stage]} go={go} />
    </Box>
  );
});

function StageBar({ stage, done, go }: { stage: StageName; done: number; go: (stage: StageName) => void }) {
  return (
    <Box
      component="nav"
      aria-label="Stages"
      sx={{ display: "flex", flexBasis: { xs: "100%", sm: "auto" }, justifyContent: "space-between" }}
    >
      {STAGES.map((name, i) => (
        <Button
          key={name}
          onClick={() => go(name)}
          aria-current={name === stage ? "step" : undefined}
          variant={name === stage ? "contained" : "text"}
          sx={{
            px: { xs: 0.8, sm: 1.4 },
            minWidth: 0,
            color: name === stage ? tokens.onPlan : i <= done ? tokens.plan : tokens.slate,
            whiteSpace: "nowrap",
          }}
        >
          {STAGE_WORDS[name]}
          <Box component="span" sx={{ display: { xs: "none", lg: "inline" } }}>
            <Key of={name} pale={name === stage} />
          </Box>
        </Button>
      ))}
    </Box>
  );
}

const SAVE_WORDS = {
  saved: "Stored",
  saving: "Storing…",
  unsaved: "Not stored yet",
  refused: "Not all stored: see below",
  offline: "Offline: kept here, not sent",
  overtaken: "Not stored: choose",
} as const;

/** What is to be said of the entries; null where there is nothing. */
function noteWords({ notes }: SortieWork): string | null {
  if (notes.full) return "This device is full: not kept here";
  if (notes.waiting === 0) return null;
  const entries = `${notes.waiting} ${notes.waiting === 1 ? "entry" : "entries"}`;
  if (notes.link === "offline") return `Offline: ${entries} kept here`;
  if (notes.link === "logged out") return `Logged out: ${entries} kept here`;
  return `Sending ${entries}`;
}

interface SaveProps {
  work: SortieWork;
  undo: () => void;
  redo: () => void;
  typed: Typed[];
  onConflict: () => void;
}

function SaveWords({ work, undo, redo, typed, onConflict }: SaveProps) {
  const wrong = typed.find((field) => field.problem);
  const words = wrong
    ? `Not stored: ${wrong.label}`
    : typed.length > 0
      ? `Not stored yet: ${typed[0]?.label}`
      : (noteWords(work) ?? SAVE_WORDS[work.save]);
  if (!work.sortie.may.save)
    return (
      <Typography sx={{ fontSize: 13, color: tokens.slate }}>
        {work.sortie.cancelled !== null
          ? "Cancelled"
          : work.sortie.reached.includes("signed")
            ? "Signed: does not change"
            : ((work.sortie.may.own_view && noteWords(work)) ?? "Reading only")}
      </Typography>
    );
  return (
    <Box sx={styles.kept}>
      <Typography
        role="status"
        sx={{
          ...narrow,
          fontSize: 13,
          color: wrong || work.save === "refused" ? tokens.stop : tokens.slate,
          whiteSpace: "nowrap",
        }}
      >
        {words}
      </Typography>
      {work.save === "overtaken" && work.clashes.length > 0 && (
        <Button size="small" color="error" onClick={onConflict} sx={{ minWidth: 0 }}>
          Choose
        </Button>
      )}
      <Button size="small" disabled={!work.canUndo} onClick={undo} sx={{ minWidth: 0 }}>
        Undo
      </Button>
      <Button size="small" disabled={!work.canRedo} onClick={redo} sx={{ minWidth: 0 }}>
        Redo
      </Button>
    </Box>
  );
}
