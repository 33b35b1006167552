import { Alert, Box, Button, Typography } from "@mui/material";
import { lazy, memo, Suspense, useDeferredValue, useState } from "react";
import { Link, useNavigate, useOutletContext, useParams } from "react-router";
import { api, inOneLine } from "../api/client";
import type { Person, Problem, Sortie, Stage } from "../api/types";
import { dayAndTime } from "../frame/dates";
import { Key } from "../frame/Key";
import { useCommands } from "../frame/commands";
import { useStable } from "../frame/useStable";
import { Loading, Trouble } from "../frame/states";
import { narrow, tokens } from "../theme";
import { Files } from "./Files";
import { ConflictDialog } from "./ConflictDialog";
import { Newer } from "./Newer";
import { PlanStage } from "./plan/PlanStage";
import { STAGES, type StageName, type StageProps } from "./stage";
import { useSortie, type SortieWork } from "./useSortie";

const styles = {
  page: { height: "100%", display: "flex", flexDirection: "column", "@media print": { height: "auto" } },
  head: {
    display: "flex",
    alignItems: "center",
    columnGap: 2,
    px: { xs: 1, md: 2.5 },
    minHeight: 50,
    flex: "none",
    flexWrap: { xs: "wrap", md: "nowrap" },
    borderBottom: `1px solid ${tokens.hairline}`,
    bgcolor: tokens.sheet,
    "@media print": { display: "none" },
  },
  back: {
    display: { xs: "block", md: "none" },
    color: tokens.plan,
    fontWeight: 650,
    textDecoration: "none",
    py: 1,
  },
  titleLine: {
    flex: 1,
    minWidth: { xs: 120, md: 200 },
    whiteSpace: "nowrap",
    overflow: "hidden",
    textOverflow: "ellipsis",
  },
  title: { fontSize: 15, fontWeight: 720, display: "inline" },
  kept: { display: "flex", alignItems: "center", gap: 0.5 },
} as const;

const BriefStage = lazy(() => import("./brief/BriefStage"));
const FlyStage = lazy(() => import("./fly/FlyStage"));
const DebriefStage = lazy(() => import("./debrief/DebriefStage"));
const SignStage = lazy(() => import("./sign/SignStage"));

const WORDS: Record<StageName, string> = {
  plan: "Plan",
  brief: "Brief",
  fly: "Fly",
  debrief: "Debrief",
  sign: "Sign",
};
const OPENS_AT: Record<Stage, StageName> = {
  planned: "plan",
  briefed: "fly",
  flown: "debrief",
  debriefed: "sign",
  signed: "sign",
};
const DONE: Record<Stage, number> = { planned: 0, briefed: 2, flown: 3, debriefed: 4, signed: 5 };

export default function SortiePage() {
  const id = Number(useParams().id);
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
  const work = useSortie(first);
  const { sortie, draft } = work;
  const navigate = useNavigate();
  const params = useParams();
  const person = useOutletContext<Person>();
  // A student comes to read the brief.
  const opens = sortie.may.read ? "brief" : OPENS_AT[sortie.stage];
  const stage = STAGES.find((s) => s === params.stage) ?? opens;
  const openFirst = () =>
    draft.plan.figures.find((f) => !draft.attempts.some((a) => a.planned.id === f.id))?.id ?? null;
  const [chosen, select] = useState<string | null>(() => (stage === "fly" ? openFirst() : null));
  const ids = draft.plan.figures.map((f) => f.id);
  const selected = chosen && ids.includes(chosen) ? chosen : (ids[0] ?? null);
  const [missing, setMissing] = useState<Problem[]>([]);
  const go = (to: StageName) => {
    setMissing([]);
    if (to === "fly") select(openFirst());
    void navigate(`/sorties/${sortie.id}/${to}`, { replace: true });
  };
  const move = (to: Exclude<Stage, "signed">, then: StageName) => {
    void work.moveTo(to).then((problems) => {
      setMissing(problems);
      if (problems.length === 0) go(then);
    });
  };
  const step = (by: number) => {
    const next = ids[Math.max(0, Math.min(ids.length - 1, ids.indexOf(selected ?? "") + by))];
    if (next) select(next);
  };
  useCommands({
    plan: () => go("plan"),
    brief: () => go("brief"),
    fly: () => go("fly"),
    debrief: () => go("debrief"),
    sign: () => go("sign"),
    ...(stage === "brief" ? {} : { next: () => step(1), previous: () => step(-1) }),
    undo: () => work.undo(),
    redo: () => work.redo(),
  });
  // The head and what stands around the strip may follow a moment after the hand.
  const calm = useDeferredValue(work);
  const goStable = useStable(go);
  const props: StageProps = { work, selected, select, go, move };
  return (
    <Box sx={styles.page}>
      <Head work={calm} stage={stage} go={goStable} />
      {sortie.clashes.length > 0 && person.role !== "student" && (
        <Alert severity="warning" sx={{ borderRadius: 0, py: 0 }}>
          Booked twice: {sortie.clashes.join("; ")}.
        </Alert>
      )}
      <Newer work={work} />
      {work.problems.length > 0 && (
        <Alert severity="error" sx={{ borderRadius: 0 }}>
          Not stored.{" "}
          {work.problems.map((p) => (
            <div key={p.where + p.what}>{inOneLine(p)}</div>
          ))}
        </Alert>
      )}
      {missing.length > 0 && (
        <Alert severity="warning" sx={{ borderRadius: 0 }} onClose={() => setMissing([])}>
          Still to do:{" "}
          {missing.map((p) => (
            <div key={p.what}>{p.where === "stage" ? `${p.what}.` : inOneLine(p)}</div>
          ))}
        </Alert>
      )}
      <Box sx={{ flex: 1, minHeight: 0 }}>
        <Suspense fallback={<Loading what="the stage" />}>
          {stage === "plan" && <PlanStage {...props} />}
          {stage === "brief" && <BriefStage {...props} />}
          {stage === "fly" && <FlyStage {...props} />}
          {stage === "debrief" && <DebriefStage {...props} />}
          {stage === "sign" && <SignStage {...props} />}
        </Suspense>
      </Box>
      {work.conflict && (
        <ConflictDialog
          conflict={work.conflict}
          takeTheirs={() => void work.takeTheirs()}
          keepMine={() => void work.keepMine()}
        />
      )}
    </Box>
  );
}

const Head = memo(function Head({
  work,
  stage,
  go,
}: {
  work: SortieWork;
  stage: StageName;
  go: (stage: StageName) => void;
}) {
  const { sortie } = work;
  return (
    <Box sx={styles.head}>
      <Box component={Link} to="/" sx={styles.back}>
        ‹ Today
      </Box>
      <Box sx={styles.titleLine}>
        <Typography component="h1" sx={styles.title}>
          {sortie.lesson_name}
        </Typography>
        <Box component="span" sx={{ color: tokens.slate, fontSize: 13.5 }}>
          {" "}
          for <b>{sortie.student}</b> · {sortie.aircraft} {sortie.aircraft_name} ·{" "}
          {dayAndTime(sortie.planned_for)}
        </Box>
      </Box>
      <Files work={work} editable={sortie.may.plan} />
      <SaveWords work={work} />
      <StageBar stage={stage} done={DONE[sortie.stage]} go={go} />
    </Box>
  );
});

function StageBar({ stage, done, go }: { stage: StageName; done: number; go: (stage: StageName) => void }) {
  return (
    <Box component="nav" aria-label="Stages" sx={{ display: "flex" }}>
      {STAGES.map((name, i) => (
        <Button
          key={name}
          onClick={() => go(name)}
          aria-current={name === stage ? "step" : undefined}
          variant={name === stage ? "contained" : "text"}
          sx={{
            px: { xs: 0.8, sm: 1.4 },
            minWidth: 0,
            color: name === stage ? "#fff" : i <= done ? tokens.plan : tokens.slate,
            whiteSpace: "nowrap",
          }}
        >
          {WORDS[name]}
          <Box component="span" sx={{ display: { xs: "none", md: "inline" } }}>
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
  refused: "Not stored: see above",
  offline: "Kept here, not sent",
} as const;

function SaveWords({ work }: { work: SortieWork }) {
  if (!work.sortie.may.save)
    return (
      <Typography sx={{ fontSize: 13, color: tokens.slate }}>
        {work.sortie.reached.includes("signed") ? "Signed: does not change" : "Reading only"}
      </Typography>
    );
  return (
    <Box sx={styles.kept}>
      <Typography
        role="status"
        sx={{
          ...narrow,
          fontSize: 13,
          color: work.save === "refused" ? tokens.stop : tokens.slate,
          whiteSpace: "nowrap",
        }}
      >
        {SAVE_WORDS[work.save]}
      </Typography>
      <Button size="small" disabled={!work.canUndo} onClick={work.undo} sx={{ minWidth: 0 }}>
        Undo
      </Button>
      <Button size="small" disabled={!work.canRedo} onClick={work.redo} sx={{ minWidth: 0 }}>
        Redo
      </Button>
    </Box>
  );
}
