import { Typography } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../api/client";
import type { GradesAsked, Grading, HeldStandards, Standards } from "../api/types";
import { GradingFields, gradingWords } from "../figures/Grading";
import { History } from "../figures/History";
import { EditorDialog } from "../forms/EditorDialog";
import { tokens } from "../theme";

interface Props {
  held: HeldStandards;
  asked: GradesAsked;
  onClose: () => void;
}

/** What the school asks of each grade in every figure, by the chief, with who changed it. */
export function GradesEditor({ held, asked, onClose }: Props) {
  const before = held.standards.grading ?? {};
  const [grading, setGrading] = useState<Grading>(before);
  const queries = useQueryClient();
  const save = api.useMutation("put", "/api/standards", {
    onSuccess: () => {
      void queries.invalidateQueries();
      onClose();
    },
  });
  const changes = api.useQuery("get", "/api/changes", { params: { query: { subject: "standards" } } });
  const of = (document: unknown) =>
    gradingWords((document as Standards | null)?.grading, asked).join("; ") || "as the program ships it";
  return (
    <EditorDialog
      title="Grades"
      what="the grades"
      error={save.error}
      in_="standards"
      fields={[]}
      storing={save.isPending}
      changed={JSON.stringify(grading) !== JSON.stringify(before)}
      ready
      onStore={() =>
        save.mutate({ body: { version: held.version, standards: { ...held.standards, grading } } })
      }
      onClose={onClose}
    >
      <Typography sx={{ color: tokens.slate }}>
        A grade is proposed when everything that could be looked at is within its numbers: common practice, no
        published source, until you set your own. A figure can have its own, under Figures. What was signed
        keeps its grade.
      </Typography>
      <GradingFields asked={asked} value={grading} under={[]} onChange={setGrading} />
      <History changes={(changes.data ?? []).filter((c) => of(c.before) !== of(c.after))} words={of} />
    </EditorDialog>
  );
}
