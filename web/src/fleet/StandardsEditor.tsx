import { useQueryClient } from "@tanstack/react-query";
import { useForm, type FieldValues } from "react-hook-form";
import { api } from "../api/client";
import type { FieldSpec, HeldStandards, Standards } from "../api/types";
import { EditorDialog, problemsOf } from "../forms/EditorDialog";
import { filled } from "../forms/fill";
import { StatedTable } from "../forms/StatedTable";

interface Props {
  held: HeldStandards;
  fields: FieldSpec[];
  onClose: () => void;
}

/** The school's standards, each with its source. */
export function StandardsEditor({ held, fields, onClose }: Props) {
  const { control, handleSubmit } = useForm<FieldValues>({ defaultValues: held.standards });
  const queries = useQueryClient();
  const save = api.useMutation("put", "/api/standards", {
    onSuccess: () => {
      void queries.invalidateQueries();
      onClose();
    },
  });
  const store = handleSubmit((typed) =>
    save.mutate({ body: { version: held.version, standards: filled(typed, fields) as Standards } }),
  );
  return (
    <EditorDialog
      title="School standards"
      what="the standards"
      error={save.error}
      in_="standards"
      fields={fields}
      storing={save.isPending}
      ready
      onStore={() => void store()}
      onClose={onClose}
    >
      <StatedTable fields={fields} control={control} problems={problemsOf(save.error)} in_="standards" />
    </EditorDialog>
  );
}
