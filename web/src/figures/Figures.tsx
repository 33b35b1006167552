import { useTitle } from "../frame/useTitle";
import { AGAIN_MS, api, askedAgain } from "../api/client";
import { Box, MenuItem, TextField, Typography } from "@mui/material";
import { keepPreviousData } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { useOutletContext, useSearchParams } from "react-router";
import { useCatalogue, useFleet, usePlaces } from "../api/questions";
import type { Figure, Person } from "../api/types";
import { useCommands } from "../frame/commands";
import { Loading, Trouble } from "../frame/states";
import { tokens, TOUCH } from "../theme";
import { SceneryContext, sceneryOf, SOMEWHERE } from "../outside/scenery";
import { FigureSheet } from "./FigureSheet";

const styles = {
  page: {
    height: "100%",
    display: "grid",
    gridTemplateColumns: { xs: "1fr", md: "236px minmax(0, 1fr)" },
    gridTemplateRows: "100%",
    overflow: { xs: "auto", md: "hidden" },
  },
  list: { p: 1.5, overflow: "auto", borderRight: `1px solid ${tokens.hairline}` },
  choices: { display: "flex", gap: 1.2, mb: 1.5, "& .MuiTextField-root": { minWidth: 190 } },
} as const;

/** The book of figures: each in a chosen aircraft, place and day. */
export default function Figures() {
  useTitle("Figures");
  const person = useOutletContext<Person>();
  const [search, setSearch] = useSearchParams();
  const [letters, setLetters] = useState("");
  const [warm, setWarm] = useState(15);
  const catalogue = useCatalogue();
  const fleet = useFleet();
  const places = usePlaces();
  const all = useMemo(() => catalogue.data?.figures ?? [], [catalogue.data]);
  const shown = all.filter((f) => `${f.name} ${f.family}`.toLowerCase().includes(letters.toLowerCase()));
  const key = search.get("figure") ?? "loop";
  // To begin with: the aircraft that may fly most, and the deepest block.
  const ablest = [...(fleet.data ?? [])].sort(
    (a, b) => Object.keys(b.card.approved).length - Object.keys(a.card.approved).length,
  )[0];
  const deepest = [...(places.data ?? [])].sort((a, b) => depth(b.place) - depth(a.place))[0];
  const aircraft = Number(search.get("aircraft") ?? ablest?.id ?? 0),
    place = Number(search.get("place") ?? deepest?.id ?? 0);
  const asked = { path: { key }, query: { aircraft_id: aircraft, place_id: place, temperature_c: warm } };
  const book = api.useQuery(
    "get",
    "/api/figures/{key}/book",
    { params: asked },
    {
      enabled: aircraft > 0 && place > 0,
      placeholderData: keepPreviousData,
      retry: askedAgain,
      retryDelay: AGAIN_MS,
    },
  );
  const set = (name: string, value: string) =>
    setSearch(
      (old) => {
        const next = new URLSearchParams(old);
        next.set(name, value);
        return next;
      },
      { replace: true },
    );
  const step = (by: number) => {
    const next = shown[shown.findIndex((f) => f.key === key) + by];
    if (next) set("figure", next.key);
  };
  useCommands({ next: () => step(1), previous: () => step(-1) });
  if (catalogue.isPending || fleet.isPending || places.isPending)
    return <Loading what="the book of figures" />;
  if (catalogue.isError || fleet.isError || places.isError)
    return <Trouble error={catalogue.error ?? fleet.error ?? places.error} />;
  const figure = all.find((f) => f.key === key);
  const over = places.data.find((p) => p.id === place)?.place;
  const card = fleet.data.find((a) => a.id === aircraft)?.card;
  return (
    <Box component="main" sx={styles.page}>
      <Box sx={styles.list} tabIndex={-1}>
        <TextField
          fullWidth
          label="Find a figure"
          value={letters}
          onChange={(e) => setLetters(e.target.value)}
          sx={{ mb: 1 }}
        />
        {shown.length === 0 && (
          <Typography sx={{ color: tokens.slate }}>No figure with these letters.</Typography>
        )}
        {families(shown).map(([family, figures]) => (
          <Box key={family} component="section" aria-label={family} sx={{ mb: 1 }}>
            <Typography variant="h2" component="h2" sx={{ fontSize: 13 }}>
              {family}
            </Typography>
            {figures.map((f) => (
              <Box
                key={f.key}
                component="button"
                ref={f.key === key ? intoView : undefined}
                onClick={() => set("figure", f.key)}
                aria-current={f.key === key || undefined}
                sx={{
                  font: "inherit",
                  display: "block",
                  width: "100%",
                  textAlign: "left",
                  border: 0,
                  px: 1,
                  py: 0.6,
                  borderRadius: 1,
                  cursor: "pointer",
                  fontSize: 14,
                  [TOUCH]: { minHeight: 44 },
                  bgcolor: f.key === key ? tokens.plan : "transparent",
                  color:
                    f.key === key
                      ? tokens.onPlan
                      : card && !(f.key in card.approved)
                        ? tokens.slate
                        : tokens.ink,
                  fontWeight: f.key === key ? 680 : 450,
                }}
              >
                {f.name}
              </Box>
            ))}
          </Box>
        ))}
      </Box>
      <Box sx={{ p: 2, overflow: "auto" }} tabIndex={-1}>
        <Box sx={styles.choices}>
          <TextField
            select
            label="Aircraft"
            value={aircraft}
            onChange={(e) => set("aircraft", e.target.value)}
          >
            {fleet.data.map((a) => (
              <MenuItem key={a.id} value={a.id}>
                {a.registration} {a.card.name}
              </MenuItem>
            ))}
          </TextField>
          <TextField select label="Place" value={place} onChange={(e) => set("place", e.target.value)}>
            {places.data.map((p) => (
              <MenuItem key={p.id} value={p.id}>
                {p.place.name}
              </MenuItem>
            ))}
          </TextField>
          <TextField select label="Day" value={warm} onChange={(e) => setWarm(Number(e.target.value))}>
            {[
              [-5, "Cold, −5 °C"],
              [15, "Standard, 15 °C"],
              [32, "Hot, 32 °C"],
            ].map(([t, words]) => (
              <MenuItem key={t} value={t}>
                {words}
              </MenuItem>
            ))}
          </TextField>
        </Box>
        {book.isError && <Trouble error={book.error} again={() => void book.refetch()} />}
        {figure && card && book.data?.key === key ? (
          <SceneryContext value={over ? sceneryOf(over) : SOMEWHERE}>
            <FigureSheet
              key={key}
              figure={figure}
              book={book.data}
              card={card}
              chief={person.role === "chief"}
            />
          </SceneryContext>
        ) : (
          !book.isError && <Loading what="the figure" />
        )}
      </Box>
    </Box>
  );
}

function depth(place: { block_top_ft: number; elevation_ft: number }): number {
  return place.block_top_ft - place.elevation_ft;
}

function intoView(element: HTMLElement | null) {
  element?.scrollIntoView?.({ block: "nearest" });
}

function families(figures: Figure[]): [string, Figure[]][] {
  return [...new Set(figures.map((f) => f.family))].map((family) => [
    family,
    figures.filter((f) => f.family === family),
  ]);
}
