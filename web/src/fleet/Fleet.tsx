import { useOpens } from "../frame/useOpens";
import { useTitle } from "../frame/useTitle";
import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { ToggleButton, ToggleButtonGroup } from "@mui/material";
import { useCallback, useState } from "react";
import { useOutletContext, useSearchParams } from "react-router";
import { api, Failed, problemAt } from "../api/client";
import { useCatalogue, useFleet, useForms, useGradesAsked, usePlaces, useStandards } from "../api/questions";
import type { Aircraft, Card, FieldSpec, Person, Place, PlaceDocument } from "../api/types";
import { History } from "../figures/History";
import { blankPart } from "../forms/fill";
import { ReadRows } from "../forms/StatedTable";
import { offerJson } from "../frame/files";
import { Empty, Loading, Trouble } from "../frame/states";
import { tokens } from "../theme";
import { CardEditor, type CardStart } from "./CardEditor";
import { CardSheet, cardWords } from "./CardSheet";
import { PlaceEditor } from "./PlaceEditor";
import { Places } from "./Places";
import { GradesEditor } from "./GradesEditor";
import { StandardsEditor } from "./StandardsEditor";
import { TakeFile } from "./TakeFile";

const styles = {
  head: { display: "flex", alignItems: "center", gap: 1, mb: 1.5 },
  secondHead: { display: "flex", alignItems: "center", mt: 2, mb: 1 },
} as const;

type Editing =
  | { what: "card"; aircraft: Aircraft | null; start: CardStart }
  | { what: "place"; held: Place | null; start: Partial<PlaceDocument> }
  | { what: "standards" }
  | { what: "grades" }
  | null;

const PAGE = {
  height: "100%",
  display: "grid",
  gridTemplateColumns: { xs: "1fr", md: "minmax(0, 1fr) 400px" },
  overflow: { xs: "auto", md: "hidden" },
};
const SIDE = { p: 2.5, overflow: "auto", borderLeft: `1px solid ${tokens.hairline}` };

/** Aircraft cards with the source of every number, the places, and the school's standards. The chief changes them. */
export default function Fleet() {
  useTitle("Fleet and places");
  const person = useOutletContext<Person>();
  const [search, setSearch] = useSearchParams();
  const [editing, setEditing] = useState<Editing>(null);
  const [failed, setFailed] = useState<unknown>(null);
  const fleet = useFleet(),
    places = usePlaces(),
    standards = useStandards(),
    catalogue = useCatalogue(),
    grades = useGradesAsked(),
    forms = useForms();
  const chosen = fleet.data?.find((a) => String(a.id) === search.get("aircraft")) ?? fleet.data?.[0];
  const opened = useCallback(
    (what: string) => {
      if (what === "standards") setEditing({ what: "standards" });
      if (what === "place") setEditing({ what: "place", held: null, start: {} });
      if (what === "aircraft")
        setEditing({ what: "card", aircraft: null, start: blankCard(forms.data?.card ?? []) });
    },
    [forms.data],
  );
  useOpens(opened, forms.isSuccess && standards.isSuccess && person.role === "chief");
  const asked = [fleet, places, standards, forms];
  const error = asked.find((question) => question.isError)?.error;
  if (error)
    return <Trouble error={error} again={() => asked.forEach((question) => void question.refetch())} />;
  if (!fleet.data || !places.data || !standards.data || !forms.data) return <Loading what="the fleet" />;
  const chief = person.role === "chief";
  const close = () => setEditing(null);
  const begin = (aircraft: Aircraft | null, start: CardStart) =>
    setEditing({ what: "card", aircraft, start });
  return (
    <Box component="main" sx={PAGE}>
      <Box tabIndex={0} role="region" aria-label="Aircraft cards" sx={{ p: 2.5, overflow: "auto" }}>
        <Box sx={styles.head}>
          <Typography variant="h1" sx={{ flex: 1 }}>
            Fleet
          </Typography>
          {chosen && <CardActions aircraft={chosen} chief={chief} onBegin={begin} />}
          {chief && <Button onClick={() => begin(null, blankCard(forms.data.card))}>Add</Button>}
          {chief && (
            <TakeFile
              label="Import an aircraft"
              onTaken={(found) => begin(null, cardIn(found, forms.data.card))}
              onFailed={setFailed}
            />
          )}
        </Box>
        {fleet.data.length === 0 && (
          <Empty>No aircraft yet. The chief enters one, or imports its card.</Empty>
        )}
        <ToggleButtonGroup
          exclusive
          value={chosen?.id ?? null}
          onChange={(_, id: number | null) => id && setSearch({ aircraft: String(id) })}
          aria-label="Aircraft"
          sx={{ mb: 2 }}
        >
          {fleet.data.map((a) => (
            <ToggleButton key={a.id} value={a.id}>
              {a.registration} {a.card.name}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        {chosen && (
          <>
            <CardSheet
              aircraft={chosen}
              fields={forms.data.card}
              names={new Map(catalogue.data?.figures.map((f) => [f.key, f.name]))}
            />
            <CardHistory id={chosen.id} />
          </>
        )}
      </Box>
      <Box tabIndex={0} role="region" aria-label="Places and standards" sx={SIDE}>
        <Places
          places={places.data}
          chief={chief}
          onEdit={(held, start) => setEditing({ what: "place", held, start })}
          onFailed={setFailed}
        />
        <Box sx={styles.secondHead}>
          <Typography variant="h1" component="h2" sx={{ flex: 1 }}>
            School standards
          </Typography>
          {chief && (
            <>
              <Button onClick={() => setEditing({ what: "grades" })}>Grades</Button>
              <Button onClick={() => setEditing({ what: "standards" })} aria-label="Change the standards">
                Change
              </Button>
            </>
          )}
        </Box>
        <ReadRows document={standards.data.standards} fields={forms.data.standards} />
      </Box>
      {editing?.what === "card" && (
        <CardEditor
          aircraft={editing.aircraft}
          start={editing.start}
          fields={forms.data.card}
          figures={catalogue.data?.figures ?? []}
          onClose={close}
          onStored={(id) => setSearch({ aircraft: String(id) })}
        />
      )}
      {editing?.what === "place" && (
        <PlaceEditor held={editing.held} start={editing.start} fields={forms.data.place} onClose={close} />
      )}
      {editing?.what === "standards" && (
        <StandardsEditor held={standards.data} fields={forms.data.standards} onClose={close} />
      )}
      {editing?.what === "grades" && grades.data && (
        <GradesEditor held={standards.data} asked={grades.data} onClose={close} />
      )}
      {failed !== null && <NotTaken error={failed} onClose={() => setFailed(null)} />}
    </Box>
  );
}

interface ActionsProps {
  aircraft: Aircraft;
  chief: boolean;
  onBegin: (aircraft: Aircraft | null, start: CardStart) => void;
}

function CardActions({ aircraft, chief, onBegin }: ActionsProps) {
  const { registration, card, parachutes_packed_on } = aircraft;
  return (
    <>
      {chief && (
        <Button
          variant="contained"
          onClick={() => onBegin(aircraft, { registration, card, packed: parachutes_packed_on ?? null })}
        >
          Change {registration}
        </Button>
      )}
      <Button
        variant="outlined"
        onClick={() => offerJson(`card-${registration}.json`, { registration, card })}
      >
        Export
      </Button>
      {chief && (
        <Button
          onClick={() => onBegin(null, { registration: "", card: { ...card, name: "" }, packed: null })}
        >
          Another like it
        </Button>
      )}
    </>
  );
}

function CardHistory({ id }: { id: number }) {
  const subject = `aircraft ${id}`;
  const changes = api.useQuery("get", "/api/changes", { params: { query: { subject } } });
  return <History changes={changes.data ?? []} words={cardWords} />;
}

function NotTaken({ error, onClose }: { error: unknown; onClose: () => void }) {
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm">
      <DialogTitle>This file was not taken</DialogTitle>
      <DialogContent>
        Nothing was changed.
        <Trouble error={error} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Back</Button>
      </DialogActions>
    </Dialog>
  );
}

/** A card on which nothing stands yet, for one that is entered from the manual. */
function blankCard(fields: FieldSpec[]): CardStart {
  return { registration: "", card: blankPart(fields) as unknown as Card, packed: null };
}

/** The card in a file, by itself or as it was exported. Throws Failed when a part of it is not there. */
function cardIn(found: Record<string, unknown>, fields: FieldSpec[]): CardStart {
  const card = (found.card ?? found) as Record<string, unknown>;
  const parts = new Set(
    fields.filter((f) => f.within === "" && f.path.includes(".")).map((f) => f.path.split(".")[0] ?? ""),
  );
  const lacking = [...parts].filter((part) => typeof card[part] !== "object" || card[part] === null);
  if (lacking.length > 0) {
    const what = "is missing",
      hint = "This is not an aircraft card, or only part of one.";
    throw new Failed(
      422,
      lacking.map((part) => problemAt(`Card, ${part.replaceAll("_", " ")}`, what, hint)),
    );
  }
  const registration = typeof found.registration === "string" ? found.registration : "";
  return { registration, card: card as unknown as Card, packed: null };
}
