import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle } from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { get, useForm, type FieldValues } from "react-hook-form";
import { api } from "../api/client";
import type { FieldSpec, HeldStandards, Standards } from "../api/types";
import { EditorDialog, problemsOf } from "../forms/EditorDialog";
import { filled, statedAt } from "../forms/fill";
import { Sections } from "../forms/Sections";

interface Props {
  held: HeldStandards;
  fields: FieldSpec[];
  onClose: () => void;
}

/** The school's standards, each with its source. */
export function StandardsEditor({ held, fields, onClose }: Props) {
  const { control, handleSubmit, formState } = useForm<FieldValues>({ defaultValues: held.standards });
  const queries = useQueryClient();
  const save = api.useMutation("put", "/api/standards", {
    onSuccess: () => {
      void queries.invalidateQueries();
      onClose();
    },
  });
  const [asked, setAsked] = useState<Standards | null>(null);
  const store = handleSubmit((typed) => setAsked(filled(typed, fields) as Standards));
  const confirm = () => {
    if (asked) save.mutate({ body: { version: held.version, standards: asked } });
    setAsked(null);
  };
  return (
    <>
      <EditorDialog
        title="School standards"
        what="the standards"
        error={save.error}
        in_="standards"
        fields={fields}
        storing={save.isPending}
        changed={formState.isDirty}
        ready
        onStore={() => void store()}
        onClose={onClose}
      >
        <Sections fields={fields} control={control} problems={problemsOf(save.error)} in_="standards" />
      </EditorDialog>
      {asked && (
        <Dialog open onClose={() => setAsked(null)} aria-labelledby="standards-asked">
          <DialogTitle id="standards-asked">For every plan that is not flown yet</DialogTitle>
          <DialogContent>
            <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
              {differences(held.standards, asked, fields).map(({ label, unit, before, after }) => (
                <li key={label}>
                  {label}: {before} → <b>{after}</b> {unit}
                </li>
              ))}
            </Box>
          </DialogContent>
          <DialogActions>
            <Button onClick={() => setAsked(null)} autoFocus>
              Back
            </Button>
            <Button variant="contained" onClick={confirm}>
              Store them
            </Button>
          </DialogActions>
        </Dialog>
      )}
    </>
  );
}

/** Each entry that is not what it was. */
function differences(before: Standards, after: Standards, fields: FieldSpec[]) {
  const said = (document: Standards, { path, enter }: FieldSpec): string => {
    const held: unknown = enter === "stated" ? statedAt(document, path)?.value : get(document, path);
    if (typeof held === "number") return held.toLocaleString("en");
    return typeof held === "string" && held !== "" ? held : "not given";
  };
  return fields
    .map((f) => ({ label: f.label, unit: f.unit, before: said(before, f), after: said(after, f) }))
    .filter((d) => d.before !== d.after);
}
