/** What the five stages have in common. */
import { Alert } from "@mui/material";
import type { Stage } from "../api/types";
import { tokens } from "../theme";
import type { SortieWork } from "./useSortie";

export const STAGES = ["plan", "brief", "fly", "debrief", "sign"] as const;
export type StageName = (typeof STAGES)[number];
export const STAGE_WORDS: Record<StageName, string> = {
  plan: "Plan",
  brief: "Brief",
  fly: "Fly",
  debrief: "Debrief",
  sign: "Sign",
};

/** The right-hand column of a stage, and the way on below it: always in sight, on a phone at its lower edge. */
export const column = {
  aside: {
    p: 1.5,
    "[data-why-open] &": { visibility: { md: "hidden" } },
    overflow: { xs: "visible", md: "auto" },
    borderLeft: { md: `1px solid ${tokens.hairline}` },
    display: "flex",
    flexDirection: "column",
    minWidth: 0,
  },
  onward: {
    "[data-why-open] &": { visibility: "hidden" },
    position: { xs: "sticky", md: "static" },
    bottom: 0,
    zIndex: 2,
    bgcolor: tokens.paper,
    borderLeft: { md: `1px solid ${tokens.hairline}` },
    borderTop: `1px solid ${tokens.hairline}`,
    px: 1.5,
    py: 1,
    display: "grid",
    gap: 1,
  },
} as const;

export interface StageProps {
  work: SortieWork;
  selected: string | null;
  select: (id: string) => void;
  go: (stage: StageName) => void;
  move: (to: Exclude<Stage, "signed">, then: StageName) => void;
}

/** Where nothing is missing but the word. */
const READY = {
  briefed: "Mark it as briefed.",
  flown: "Mark it as landed, in Fly.",
  debriefed: "Mark the debrief as done.",
  signed: "Sign it.",
} as const;

/** What is said when a stage is opened before its time. */
export function NotYet({
  work,
  stage,
  words,
}: {
  work: SortieWork;
  stage: "briefed" | "flown" | "debriefed" | "signed";
  words: string;
}) {
  const missing = work.sortie.missing[stage] ?? [];
  return (
    <Alert severity="info" sx={{ mb: 1.5 }}>
      {words}
      {missing.length === 0 && <div>{READY[stage]}</div>}
      {missing.map((line) => (
        <div key={line}>{line}</div>
      ))}
    </Alert>
  );
}
