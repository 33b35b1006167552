import { Box, Button, MenuItem, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { server } from "../../api/client";
import { useCatalogue } from "../../api/questions";
import type { Attempt, Catalogue, FieldCorrection, Sortie } from "../../api/types";
import { NumberField } from "../../forms/NumberField";
import { useBounds } from "../../forms/bounds";
import { Refusals } from "../../frame/states";
import { LABELS } from "../../notes/words";
import { gradesFor } from "../debrief/GradeChoice";
import type { SortieWork } from "../useSortie";
import { useSending } from "./useSending";

const styles = { form: { display: "flex", flexDirection: "column", gap: 1.5 } } as const;

type What = FieldCorrection["what"];
type Value = FieldCorrection["after"];
const CHOSEN: What[] = ["grade", "fault", "flown_by", "outcome"];
const NUMBERS: What[] = [
  "start_ft",
  "recover_ft",
  "lowest_ft",
  "level_ft",
  "taken_over_ft",
  "turns",
  "most_g",
  "rolling_g",
  "fastest_ias",
  "feel",
];

/** What counts at a place of a signed attempt: what was corrected last, else what was signed. */
export function stands(
  attempt: Attempt,
  corrections: Sortie["corrections"],
  what: What,
  about: string,
): NonNullable<Value> | null {
  const here = corrections
    .map((c) => c.what)
    .filter((c) => c?.attempt === attempt.id && c.what === what && (c.about ?? "") === about);
  const last = here.at(-1);
  if (last) return last.after ?? null;
  if (what === "fault") return attempt.faults.includes(about);
  return (attempt[what as keyof Attempt] as NonNullable<Value> | undefined) ?? null;
}

/** By whom it counts as flown: that decides which grades it can earn. */
function whoFlew(attempt: Attempt, corrections: Sortie["corrections"]): Attempt["flown_by"] {
  return stands(attempt, corrections, "flown_by", "") as Attempt["flown_by"];
}

/** Beside a signed record: one thing noted of an attempt, which counts from then on, or what is correct in words. */
export function Correct({ work }: { work: SortieWork }) {
  const { sortie } = work;
  const catalogue = useCatalogue().data;
  const [id, setId] = useState("");
  const [what, setWhat] = useState<What>("grade");
  const [about, setAbout] = useState("");
  const [after, setAfter] = useState<Value>(null);
  const [text, setText] = useState("");
  const [reason, setReason] = useState("");
  const { problems, send } = useSending(work);
  const attempt = sortie.attempts.find((a) => a.id === id);
  const before = attempt ? stands(attempt, sortie.corrections, what, about) : null;
  const now: Value = what === "fault" ? !before : after;
  const said = attempt ? now !== before && (what !== "fault" || about !== "") : text.trim() !== "";
  const begin = (chosen: { id?: string; what?: What; about?: string }) => {
    const of = sortie.attempts.find((a) => a.id === (chosen.id ?? id));
    const field = chosen.what ?? what;
    setId(chosen.id ?? id);
    setWhat(field);
    setAbout(chosen.about ?? "");
    setAfter(of && field !== "fault" ? stands(of, sortie.corrections, field, "") : null);
  };
  const add = () => {
    const field = attempt ? { attempt: attempt.id, what, about, before, after: now } : null;
    const body = field ? { reason, what: field } : { reason, text };
    const path = { sortie_id: sortie.id };
    return send(server.POST("/api/sorties/{sortie_id}/corrections", { params: { path }, body }), () => {
      begin({ id: "" });
      setText("");
      setReason("");
    });
  };
  return (
    <Box
      component="form"
      aria-label="Add a correction"
      onSubmit={(e: React.FormEvent) => {
        e.preventDefault();
        void add();
      }}
      sx={styles.form}
    >
      <Typography variant="h2">Add a correction</Typography>
      <TextField
        select
        label="Of"
        value={id}
        onChange={(e) => begin({ id: e.target.value })}
        slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      >
        <MenuItem value="">anything, in words</MenuItem>
        {sortie.attempts.map((a, n) => (
          <MenuItem key={a.id} value={a.id}>
            {n + 1} {sortie.attempt_titles[a.id]}
          </MenuItem>
        ))}
      </TextField>
      {attempt ? (
        <>
          <TextField
            select
            label="What was noted wrongly"
            value={what}
            onChange={(e) => begin({ what: e.target.value as What })}
          >
            {[...CHOSEN, ...NUMBERS].map((one) => (
              <MenuItem key={one} value={one}>
                {LABELS[one] ?? "A fault"}
              </MenuItem>
            ))}
          </TextField>
          {what === "fault" ? (
            <Fault
              attempt={attempt}
              catalogue={catalogue}
              about={about}
              noted={(key) => stands(attempt, sortie.corrections, "fault", key) === true}
              onFault={(key) => begin({ about: key })}
            />
          ) : (
            <Correctly
              attempt={{ ...attempt, flown_by: whoFlew(attempt, sortie.corrections) }}
              catalogue={catalogue}
              what={what}
              value={after ?? null}
              onValue={setAfter}
            />
          )}
        </>
      ) : (
        <TextField
          label="What is correct"
          multiline
          minRows={2}
          value={text}
          onChange={(e) => setText(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 2000 } }}
        />
      )}
      <TextField
        label="Reason"
        value={reason}
        onChange={(e) => setReason(e.target.value)}
        slotProps={{ htmlInput: { maxLength: 300 } }}
      />
      <Refusals of={problems} />
      <Typography sx={{ fontSize: 13 }}>
        {attempt
          ? "Counts from now on in progress, numbers and the next lesson. What was signed stays beside it."
          : "Stands beside the record and changes nothing that counts."}
      </Typography>
      <Button type="submit" variant="outlined" disabled={!said || reason.trim() === ""}>
        Add beside the record
      </Button>
    </Box>
  );
}

function Fault(props: {
  attempt: Attempt;
  catalogue: Catalogue | undefined;
  about: string;
  noted: (key: string) => boolean;
  onFault: (key: string) => void;
}) {
  const faults = props.catalogue?.figures.find((f) => f.key === props.attempt.planned.key)?.faults ?? [];
  return (
    <TextField select label="Which fault" value={props.about} onChange={(e) => props.onFault(e.target.value)}>
      {faults.map((fault) => (
        <MenuItem key={fault.key} value={fault.key}>
          {fault.words}: {props.noted(fault.key) ? "take it out" : "add it"}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** What is correct: chosen or typed, beginning with what stands there. */
function Correctly(props: {
  attempt: Attempt;
  catalogue: Catalogue | undefined;
  what: What;
  value: NonNullable<Value> | null;
  onValue: (value: Value) => void;
}) {
  const { attempt, catalogue, what, value, onValue } = props;
  const bounds = useBounds("attempt");
  const label = "Correct is";
  if (NUMBERS.includes(what)) {
    const number = typeof value === "number" ? value : null;
    return <NumberField label={label} {...bounds(what)} optional value={number} onValue={onValue} />;
  }
  const figure = catalogue?.figures.find((f) => f.key === attempt.planned.key);
  const choices: Record<string, readonly string[]> = {
    grade: gradesFor({ ...attempt, grade: null }, catalogue).map(([grade]) => grade),
    flown_by: catalogue?.flown_by ?? [],
    outcome: figure?.outcomes ?? [],
  };
  const found = choices[what] ?? [];
  const there = typeof value === "string" ? value : "";
  return (
    <TextField select label={label} value={there} onChange={(e) => onValue(e.target.value || null)}>
      {what !== "flown_by" && <MenuItem value="">not known</MenuItem>}
      {[...new Set([...found, ...(there ? [there] : [])])].map((one) => (
        <MenuItem key={one} value={one}>
          {one}
        </MenuItem>
      ))}
    </TextField>
  );
}
