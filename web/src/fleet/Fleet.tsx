import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Paper,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { useOutletContext, useSearchParams } from "react-router";
import { answered, Failed, server } from "../api/client";
import type { Aircraft, Card, Person, Place, PlaceDocument } from "../api/types";
import { PlanView } from "../charts/PlanView";
import { History } from "../figures/History";
import { day } from "../frame/dates";
import { offerJson, readJson } from "../frame/files";
import { Empty, Loading, Trouble } from "../frame/states";
import { narrow, tokens } from "../theme";
import { VerdictMark } from "../verdict/VerdictMark";
import { CardEditor } from "./CardEditor";
import { GROUPS, SPIN, STANDARDS } from "./cardFields";
import { NEW_PLACE, PlaceEditor } from "./PlaceEditor";
import { readStandards, StandardsEditor } from "./StandardsEditor";
import { ReadRows } from "./StatedRows";

type Editing =
  | { card: { aircraft: Aircraft | null; registration: string; card: Card; packed: string | null } }
  | { place: { held: Place | null; start: PlaceDocument } }
  | { standards: true }
  | null;

/** Aircraft cards with the source of every number, the places, and the school's standards. The chief changes them. */
export default function Fleet() {
  const person = useOutletContext<Person>();
  const [search, setSearch] = useSearchParams();
  const [editing, setEditing] = useState<Editing>(null);
  const [failed, setFailed] = useState<unknown>(null);
  const cardFile = useRef<HTMLInputElement>(null),
    placeFile = useRef<HTMLInputElement>(null);
  const fleet = useQuery({ queryKey: ["aircraft"], queryFn: () => answered(server.GET("/api/aircraft")) });
  const places = useQuery({ queryKey: ["places"], queryFn: () => answered(server.GET("/api/places")) });
  const standards = useQuery({ queryKey: ["standards"], queryFn: readStandards });
  const catalogue = useQuery({
    queryKey: ["catalogue"],
    queryFn: () => answered(server.GET("/api/catalogue")),
    staleTime: Infinity,
  });
  const chosen = fleet.data?.find((a) => String(a.id) === search.get("aircraft")) ?? fleet.data?.[0];
  const changes = useQuery({
    queryKey: ["changes", chosen?.id],
    enabled: chosen !== undefined,
    queryFn: () =>
      answered(server.GET("/api/changes", { params: { query: { subject: `aircraft ${chosen?.id}` } } })),
  });
  if (fleet.isPending || places.isPending || standards.isPending) return <Loading what="the fleet" />;
  if (fleet.isError || places.isError || standards.isError)
    return (
      <Trouble
        error={fleet.error ?? places.error ?? standards.error}
        again={() => {
          void fleet.refetch();
          void places.refetch();
          void standards.refetch();
        }}
      />
    );
  const chief = person.role === "chief";
  const take = async (file: File | undefined, then: (document: Record<string, unknown>) => void) => {
    if (!file) return;
    try {
      const found = await readJson(file);
      if (typeof found !== "object" || found === null || Array.isArray(found))
        throw new Failed(422, [
          { where: file.name, what: "it does not begin with {", do: "Choose a file that was exported here." },
        ]);
      then(found as Record<string, unknown>);
    } catch (error) {
      setFailed(error);
    }
  };
  const importCard = (found: Record<string, unknown>) => {
    const card = (found.card ?? found) as Card;
    const lacking = ["balance", "speeds", "limits", "roll", "approved"].filter(
      (part) => typeof (card as unknown as Record<string, unknown>)[part] !== "object",
    );
    if (lacking.length)
      throw new Failed(
        422,
        lacking.map((part) => ({
          where: `card.${part}`,
          what: "is missing",
          do: "This is not an aircraft card, or only part of one.",
        })),
      );
    setEditing({
      card: {
        aircraft: null,
        registration: typeof found.registration === "string" ? found.registration : "",
        card,
        packed: null,
      },
    });
  };
  return (
    <Box
      component="main"
      sx={{
        height: "100%",
        display: "grid",
        gridTemplateColumns: { xs: "1fr", md: "minmax(0, 1fr) 400px" },
        overflow: { xs: "auto", md: "hidden" },
      }}
    >
      <Box tabIndex={0} role="region" aria-label="Aircraft cards" sx={{ p: 2.5, overflow: "auto" }}>
        <Box sx={{ display: "flex", alignItems: "center", gap: 1, mb: 1.5 }}>
          <Typography variant="h1" sx={{ flex: 1 }}>
            Fleet
          </Typography>
          {chosen && chief && (
            <Button
              variant="contained"
              onClick={() =>
                setEditing({
                  card: {
                    aircraft: chosen,
                    registration: chosen.registration,
                    card: chosen.card,
                    packed: chosen.parachutes_packed_on ?? null,
                  },
                })
              }
            >
              Change {chosen.registration}
            </Button>
          )}
          {chosen && (
            <Button
              variant="outlined"
              onClick={() =>
                offerJson(`card-${chosen.registration}.json`, {
                  registration: chosen.registration,
                  card: chosen.card,
                })
              }
            >
              Export
            </Button>
          )}
          {chosen && chief && (
            <Button
              onClick={() =>
                setEditing({
                  card: {
                    aircraft: null,
                    registration: "",
                    card: { ...chosen.card, name: "" },
                    packed: null,
                  },
                })
              }
            >
              Another like it
            </Button>
          )}
          {chief && <Button onClick={() => cardFile.current?.click()}>Import</Button>}
          <input
            ref={cardFile}
            type="file"
            hidden
            accept=".json,application/json"
            aria-label="Import an aircraft"
            onChange={(e) => {
              const file = e.target.files?.[0];
              e.target.value = "";
              void take(file, importCard);
            }}
          />
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
          <CardSheet aircraft={chosen} names={new Map(catalogue.data?.figures.map((f) => [f.key, f.name]))} />
        )}
        <History changes={changes.data ?? []} words={(doc) => cardWords(doc)} />
      </Box>
      <Box
        tabIndex={0}
        role="region"
        aria-label="Places and standards"
        sx={{ p: 2.5, overflow: "auto", borderLeft: `1px solid ${tokens.hairline}` }}
      >
        <Box sx={{ display: "flex", alignItems: "center", mb: 1 }}>
          <Typography variant="h1" component="h2" sx={{ flex: 1 }}>
            Places
          </Typography>
          {chief && (
            <Button onClick={() => setEditing({ place: { held: null, start: NEW_PLACE } })}>Add</Button>
          )}
          {chief && <Button onClick={() => placeFile.current?.click()}>Import</Button>}
          <input
            ref={placeFile}
            type="file"
            hidden
            accept=".json,application/json"
            aria-label="Import a place"
            onChange={(e) => {
              const file = e.target.files?.[0];
              e.target.value = "";
              void take(file, (found) =>
                setEditing({
                  place: { held: null, start: { ...NEW_PLACE, ...(found as Partial<PlaceDocument>) } },
                }),
              );
            }}
          />
        </Box>
        {places.data.map((held) => (
          <Paper key={held.id} sx={{ border: `1px solid ${tokens.hairline}`, p: 1.5, mb: 1 }}>
            <Box sx={{ display: "flex", alignItems: "center" }}>
              <Typography sx={{ fontWeight: 700, flex: 1 }}>{held.place.name}</Typography>
              {chief && (
                <Button
                  size="small"
                  onClick={() => setEditing({ place: { held, start: held.place } })}
                  aria-label={`Change ${held.place.name}`}
                >
                  Change
                </Button>
              )}
              <Button
                size="small"
                onClick={() => offerJson(`place-${held.id}.json`, held.place)}
                aria-label={`Export ${held.place.name}`}
              >
                Export
              </Button>
            </Box>
            <Typography sx={narrow}>
              Ground {held.place.elevation_ft.toLocaleString("en")} ft, block top{" "}
              {held.place.block_top_ft.toLocaleString("en")} ft QNH
              {held.place.station && `, reports of ${held.place.station}`}
            </Typography>
            <Typography sx={{ fontSize: 13.5, color: tokens.slate }}>{held.place.notes}</Typography>
            <PlanView place={held.place} answer={null} windFrom={0} windKt={0} />
          </Paper>
        ))}
        <Box sx={{ display: "flex", alignItems: "center", mt: 2, mb: 1 }}>
          <Typography variant="h1" component="h2" sx={{ flex: 1 }}>
            School standards
          </Typography>
          {chief && (
            <Button onClick={() => setEditing({ standards: true })} aria-label="Change the standards">
              Change
            </Button>
          )}
        </Box>
        <ReadRows document={standards.data.standards} fields={STANDARDS} unit="" />
      </Box>
      {editing && "card" in editing && (
        <CardEditor
          aircraft={editing.card.aircraft}
          start={editing.card}
          figures={catalogue.data?.figures ?? []}
          onClose={() => setEditing(null)}
          onStored={(id) => setSearch({ aircraft: String(id) })}
        />
      )}
      {editing && "place" in editing && (
        <PlaceEditor held={editing.place.held} start={editing.place.start} onClose={() => setEditing(null)} />
      )}
      {editing && "standards" in editing && (
        <StandardsEditor held={standards.data} onClose={() => setEditing(null)} />
      )}
      {failed !== null && (
        <Dialog open onClose={() => setFailed(null)} fullWidth maxWidth="sm">
          <DialogTitle>This file was not taken</DialogTitle>
          <DialogContent>
            Nothing was changed.
            <Trouble error={failed} />
          </DialogContent>
          <DialogActions>
            <Button onClick={() => setFailed(null)}>Back</Button>
          </DialogActions>
        </Dialog>
      )}
    </Box>
  );
}

function CardSheet({ aircraft, names }: { aircraft: Aircraft; names: Map<string, string> }) {
  const { card } = aircraft;
  const spins = card.spin?.approved ?? false;
  return (
    <>
      <Box sx={{ display: "flex", gap: 3, flexWrap: "wrap", mb: 1.5, alignItems: "center" }}>
        <Typography sx={{ display: "flex", gap: 1, alignItems: "center", fontWeight: 680 }}>
          <VerdictMark verdict={spins ? "fine" : "stop"} />
          {spins ? "Spins approved" : "Spins not approved"}
        </Typography>
        <Typography>{card.category} category</Typography>
        <Typography>
          Parachutes packed {aircraft.parachutes_packed_on ? day(aircraft.parachutes_packed_on) : "not known"}
        </Typography>
      </Box>
      <Typography sx={{ mb: 1.5, fontSize: 14 }}>
        <b>Approved:</b>{" "}
        {Object.keys(card.approved)
          .map((key) => (names.get(key) ?? key.replace(/_/g, " ")).toLowerCase())
          .join(", ")}
      </Typography>
      {card.spin && (card.spin.recovery ?? []).length > 0 && (
        <Typography sx={{ mb: 1.5 }}>
          <b>Spin recovery of the manual ({card.spin.ref}):</b> {card.spin.recovery?.join(" ")}
        </Typography>
      )}
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: "repeat(auto-fit, minmax(300px, 1fr))",
          gap: 2,
          alignItems: "start",
        }}
      >
        {[...GROUPS, ...(card.spin ? [SPIN] : [])].map(([title, fields]) => (
          <Paper key={title} sx={{ border: `1px solid ${tokens.hairline}`, p: 1.5 }}>
            <Typography variant="h2">{title}</Typography>
            <ReadRows document={card} fields={fields} unit={card.speed_unit} />
          </Paper>
        ))}
      </Box>
    </>
  );
}

/** What of a card is told apart in its history. */
function cardWords(document: unknown): string {
  const { card, parachutes_packed_on } = (document ?? {}) as { card?: Card; parachutes_packed_on?: string };
  return card
    ? `stall ${card.speeds.stall_ias.value}, Va ${card.speeds.manoeuvring_ias.value}, Vne ${card.speeds.never_exceed_ias.value} ${card.speed_unit}, ${card.limits.most_g.value} g, parachutes ${parachutes_packed_on ?? "not known"}`
    : "not in the fleet";
}
