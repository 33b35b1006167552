import { Alert, Button } from "@mui/material";
import { useState } from "react";
import type { Problem } from "../api/types";
import type { SortieWork } from "./useSortie";
import { Lines } from "../frame/states";

const MOST = 4;
const WHAT = { aircraft: "The aircraft's card", place: "The place" } as const;

/** What the chief has changed since the sortie was planned: it stays as it was planned until somebody takes it over. */
export function Newer({ work }: { work: SortieWork }) {
  const { newer, may } = work.sortie;
  return (["aircraft", "place"] as const)
    .filter((what) => (newer[what] ?? []).length > 0)
    .map((what) => <Changed key={what} work={work} what={what} may={may.plan} />);
}

function Changed({ work, what, may }: { work: SortieWork; what: "aircraft" | "place"; may: boolean }) {
  const [problems, setProblems] = useState<Problem[]>([]);
  const found = work.sortie.newer[what] ?? [];
  const shown = found.slice(0, MOST).map((d) => `${d.place}: ${d.stored} → ${d.yours}`);
  const more = found.length > MOST ? `, and ${found.length - MOST} more` : "";
  const take = () => void work.takeNewer(what).then(setProblems);
  return (
    <Alert
      severity="warning"
      sx={{ borderRadius: 0, py: 0 }}
      action={
        may && (
          <Button size="small" color="inherit" onClick={take} sx={{ whiteSpace: "nowrap" }}>
            Take over
          </Button>
        )
      }
    >
      {WHAT[what]} was changed after this was planned, and the plan stands on the earlier one.{" "}
      {shown.join("; ")}
      {more}.
      <Lines of={problems} />
    </Alert>
  );
}
