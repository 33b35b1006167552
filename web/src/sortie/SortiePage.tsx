import { Alert, Box, Button, Dialog, DialogActions, DialogContent, DialogTitle } from "@mui/material";
import { useDeferredValue, useEffect, useRef, useState } from "react";
import { useNavigate, useOutletContext, useParams } from "react-router";
import { api, inOneLine, problemAt } from "../api/client";
import type { Person, Problem, Sortie, Stage } from "../api/types";
import { dayAndTime } from "../frame/dates";
import { useCommands } from "../frame/commands";
import { useStable } from "../frame/useStable";
import { lazily } from "../frame/lazily";
import { Lines, Loading, Trouble } from "../frame/states";
import { said } from "../notes/words";
import { useTitle } from "../frame/useTitle";
import { OutsideOf } from "../outside/Outside";
import { TypingContext, useTyping, type Typed } from "../forms/typed";
import { Booked } from "./Booked";
import { ConflictDialog } from "./ConflictDialog";
import { Head } from "./Head";
import { Newer } from "./Newer";
import { PlanStage } from "./plan/PlanStage";
import { STAGE_WORDS, STAGES, type StageName, type StageProps } from "./stage";
import type { Stale } from "./useComputed";
import { useSortie, type SortieWork } from "./useSortie";
import type { Meanwhile } from "./useStoring";

const styles = {
  page: { height: "100%", display: "flex", flexDirection: "column", "@media print": { height: "auto" } },
  stage: {
    flex: 1,
    minHeight: 0,
    // Numbers and verdicts of an earlier draft are grey and slanted, unless the new ones come at once.
    "& [data-why], & [data-verdict]": { transition: "font-style 0s linear 0.35s, filter 0s linear 0.35s" },
    "&[data-stale] [data-why], &[data-stale] [data-verdict]": {
      fontStyle: "italic",
      filter: "grayscale(1)",
    },
  },
} as const;

const BriefStage = lazily(() => import("./brief/BriefStage"), "the brief");
const FlyStage = lazily(() => import("./fly/FlyStage"), "the page for the flight");
const DebriefStage = lazily(() => import("./debrief/DebriefStage"), "the debrief");
const SignStage = lazily(() => import("./sign/SignStage"), "the page to sign");
/** Fetched while the sortie is: all of it is there once it is open, whatever becomes of the network. */
const STAGE_PARTS = [BriefStage, FlyStage, DebriefStage, SignStage];

const OPENS_AT: Record<Stage, StageName> = {
  planned: "plan",
  briefed: "fly",
  flown: "debrief",
  debriefed: "sign",
  signed: "sign",
};
const STALE_WORDS: Record<Stale, string> = {
  computing: "they are being computed",
  "no answer": "the server does not answer",
  refused: "they cannot be computed from what is entered",
};
export default function SortiePage() {
  const id = Number(useParams().id);
  useEffect(() => STAGE_PARTS.forEach((part) => void part.load()), []);
  const found = api.useQuery(
    "get",
    "/api/sorties/{sortie_id}",
    { params: { path: { sortie_id: id } } },
    { refetchOnMount: "always", gcTime: 0 },
  );
  if (found.isPending) return <Loading what="the sortie and its heights" />;
  if (found.isError) return <Trouble error={found.error} again={() => void found.refetch()} />;
  return <OneSortie key={id} first={found.data} />;
}

function OneSortie({ first }: { first: Sortie }) {
  const navigate = useNavigate();
  const params = useParams();
  const person = useOutletContext<Person>();
  // A student comes to read the brief.
  const [opens] = useState(() => (first.may.read ? "brief" : OPENS_AT[first.stage]));
  const stage = STAGES.find((s) => s === params.stage) ?? opens;
  const work = useSortie(first, stage, person.id);
  const { sortie, draft } = work;
  const { typed, tell } = useTyping();
  useTitle(`${STAGE_WORDS[stage]}: ${sortie.lesson_name}, ${sortie.student}`);
  const heading = useRef<HTMLHeadingElement>(null);
  const [chosen, select] = useState<string | null>(null);
  const ids = draft.plan.figures.map((f) => f.id);
  const selected = chosen && ids.includes(chosen) ? chosen : (ids[0] ?? null);
  const [missing, setMissing] = useState<Problem[]>([]);
  const wrong = typed.filter((field) => field.problem).map(untaken);
  const go = (to: StageName) => {
    // What is not understood stays where it was typed, and is seen there.
    if (wrong.length > 0) return setMissing(wrong);
    setMissing([]);
    void navigate(`/sorties/${sortie.id}/${to}`, { replace: true });
    heading.current?.focus();
  };
  const move = (to: Exclude<Stage, "signed">, then: StageName) => {
    if (work.stale)
      return setMissing([problemAt("Heights", STALE_WORDS[work.stale], "Wait for them, then go on.")]);
    if (wrong.length > 0) return setMissing(wrong);
    void work.moveTo(to).then((problems) => {
      setMissing(problems);
      if (problems.length === 0) go(then);
    });
  };
  const step = (by: number) => {
    const next = ids[Math.max(0, Math.min(ids.length - 1, ids.indexOf(selected ?? "") + by))];
    if (next) select(next);
  };
  const [asksUndo, setAsksUndo] = useState(false);
  // What is taken back, or done again, is looked at.
  const undo = () => {
    if (work.undoesTheirs) return setAsksUndo(true);
    if (work.undoShows) select(work.undoShows);
    work.undo();
  };
  const redo = () => {
    if (work.redoShows) select(work.redoShows);
    work.redo();
  };
  const [later, setLater] = useState<Meanwhile | null>(null);
  useCommands({
    plan: () => go("plan"),
    brief: () => go("brief"),
    fly: () => go("fly"),
    debrief: () => go("debrief"),
    sign: () => go("sign"),
    ...(stage === "brief" || stage === "fly" ? {} : { next: () => step(1), previous: () => step(-1) }),
    undo: () => undo(),
    redo: () => redo(),
  });
  // The head and what stands around the strip may follow a moment after the hand.
  const calm = useDeferredValue(work);
  const goStable = useStable(go);
  const props: StageProps = { work, selected, select, go, move };
  return (
    <Box component="main" sx={styles.page}>
      <Head
        work={calm}
        person={person}
        stage={stage}
        go={goStable}
        undo={undo}
        redo={redo}
        typed={typed}
        heading={heading}
        onConflict={() => setLater(null)}
      />
      <StaleWords work={calm} />
      {work.told && (
        <Alert severity="info" sx={{ borderRadius: 0, py: 0 }} onClose={work.heard}>
          {work.told.by} changed this sortie too, at {dayAndTime(work.told.at)}
          {work.told.places.length > 0 && `: ${work.told.places.slice(0, 6).join("; ")}`}. Both are kept.
        </Alert>
      )}
      {sortie.clashes.length > 0 && person.role !== "student" && (
        <Alert severity="warning" sx={{ borderRadius: 0, py: 0 }}>
          Booked twice: {sortie.clashes.join("; ")}.
        </Alert>
      )}
      <Booked work={work} person={person} />
      <Newer work={work} />
      {work.problems.length > 0 && (
        <Alert severity="error" sx={{ borderRadius: 0 }}>
          Not stored, and kept where it was typed: <Lines of={work.problems} />
        </Alert>
      )}
      {work.notes.refused.length > 0 && <NotTaken work={work} />}
      {missing.length > 0 && (
        <Alert severity="warning" sx={{ borderRadius: 0 }} onClose={() => setMissing([])}>
          Still to do:{" "}
          {missing.map((p) => (
            <div key={p.what}>{p.where === "stage" ? `${p.what}.` : inOneLine(p)}</div>
          ))}
        </Alert>
      )}
      <TypingContext value={tell}>
        <Box sx={styles.stage} data-stale={work.stale ?? undefined}>
          <OutsideOf sortie={sortie} draft={draft}>
            {stage === "plan" && <PlanStage {...props} />}
            {stage === "brief" && <BriefStage {...props} />}
            {stage === "fly" && <FlyStage {...props} />}
            {stage === "debrief" && <DebriefStage {...props} />}
            {stage === "sign" && <SignStage {...props} />}
          </OutsideOf>
        </Box>
      </TypingContext>
      {work.meanwhile && work.clashes.length > 0 && later !== work.meanwhile && (
        <ConflictDialog
          conflict={work.meanwhile.conflict}
          clashes={work.clashes}
          onStore={work.putTogether}
          onClose={() => setLater(work.meanwhile)}
        />
      )}
      {asksUndo && (
        <UndoTheirs
          by={work.undoesTheirs}
          onClose={() => setAsksUndo(false)}
          onUndo={() => {
            setAsksUndo(false);
            work.undo();
          }}
        />
      )}
    </Box>
  );
}

/** Entries that are listed one by one. */
const LISTED = 6;

/** What the server will not have stays here, with why. */
function NotTaken({ work: { notes, answer } }: { work: SortieWork }) {
  const entries = notes.refused.slice(0, LISTED).map((k) => said(k.entry, answer.titles));
  if (notes.refused.length > LISTED) entries.push(`and ${notes.refused.length - LISTED} more`);
  const why = [...new Set(notes.refused.map((k) => (k.why ? inOneLine(k.why) : "")))];
  return (
    <Alert
      severity="error"
      sx={{ borderRadius: 0 }}
      action={
        <Button color="inherit" onClick={notes.sendRefused}>
          Send again
        </Button>
      }
    >
      {notes.refused.length} {notes.refused.length === 1 ? "entry was" : "entries were"} not taken by the
      server, and {notes.refused.length === 1 ? "is" : "are"} kept on this device.
      {why.map((line) => (
        <div key={line}>{line}</div>
      ))}
      <div>{entries.join("; ")}.</div>
    </Alert>
  );
}

function untaken({ label, problem }: Typed): Problem {
  return problemAt(label, problem.replace(/[.:].*$/, ""), "Correct it, or press Esc in the field.");
}

/** While the answer is not of this draft, nothing that it says is shown as if it were. */
function StaleWords({ work }: { work: SortieWork }) {
  if (work.stale === null || work.stale === "computing") return null;
  return (
    <Alert severity={work.stale === "refused" ? "error" : "warning"} sx={{ borderRadius: 0, py: 0 }}>
      Heights and verdicts are of an earlier draft: {STALE_WORDS[work.stale]}.
      {work.stale === "no answer" && " They are asked for again by themselves."}
      <Lines of={work.refusal} />
    </Alert>
  );
}

function UndoTheirs({ by, onClose, onUndo }: { by: string; onClose: () => void; onUndo: () => void }) {
  return (
    <Dialog open onClose={onClose} aria-labelledby="undo-title">
      <DialogTitle id="undo-title">Take back what {by} stored?</DialogTitle>
      <DialogContent>
        Your last step was to put theirs together with yours. Undo puts the sheets as they were before over
        what {by} stored.
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} autoFocus>
          Leave it
        </Button>
        <Button onClick={onUndo} color="error">
          Take it back
        </Button>
      </DialogActions>
    </Dialog>
  );
}
