import {
  Alert,
  Box,
  Button,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { useGradesAsked, useStandards } from "../api/questions";
import type { Book, Card, Figure, GradesAsked } from "../api/types";
import { GateMap } from "../charts/GateMap";
import { nearestPoint, pointsOf, SideView } from "../charts/SideView";
import { OutOfWindow } from "../charts/OutOfWindow";
import { eyeAlong, NORTHWARD } from "../outside/scenery";
import { WhatIfs } from "../sortie/plan/SidePanel";
import { narrow, tokens } from "../theme";
import { VerdictMark } from "../verdict/VerdictMark";
import { WhyNumber } from "../why/WhyNumber";
import { GradesTable, gradingWords } from "./Grading";
import { History } from "./History";
import { blocksOf, blocksWords } from "./Blocking";
import { StandardEditor } from "./StandardEditor";

const styles = {
  head: { display: "flex", alignItems: "baseline", gap: 1.5 },
  approved: { display: "inline-flex", gap: 0.6, alignItems: "center", fontSize: 14 },
  purpose: { fontSize: 16, color: tokens.slate, mb: 1 },
  numbers: {
    display: "flex",
    gap: 3,
    flexWrap: "wrap",
    bgcolor: tokens.sheet,
    border: `1px solid ${tokens.hairline}`,
    px: 2,
    py: 0.8,
    mb: 1.2,
  },
  number: { ...narrow, fontSize: 24, fontWeight: 760 },
  note: { fontSize: 12.5, color: tokens.slate, lineHeight: 1.2 },
  asks: {
    mb: 1.2,
    p: 1,
    borderLeft: `4px solid ${tokens.plan}`,
    bgcolor: tokens.sheet,
    fontSize: 14.5,
  },
  halves: {
    display: "grid",
    gridTemplateColumns: { xs: "1fr", lg: "minmax(0, 1.5fr) minmax(0, 1fr)" },
    gap: 2,
  },
  moments: { display: "grid", gridTemplateColumns: "repeat(4, minmax(0, 1fr))", gap: 1, mt: 1 },
  steps: { m: 0, pl: 2.4, fontSize: 13, lineHeight: 1.3 },
  source: { fontSize: 12, color: tokens.slate, mt: 0.5 },
  faults: { bgcolor: tokens.sheet, border: `1px solid ${tokens.hairline}`, mt: 0.5 },
} as const;

interface Props {
  figure: Figure;
  book: Book;
  card: Card;
  chief: boolean;
}

/** One figure in the book: pictures, gates, schools side by side, faults in feet, and what this school asks. */
export function FigureSheet({ figure, book, card, chief }: Props) {
  const [editing, setEditing] = useState(false);
  const grades = useGradesAsked().data;
  const standards = useStandards().data;
  const { answer, look } = book;
  const asks = asked(book, card);
  return (
    <Box component="article" aria-label={figure.name}>
      <Box sx={styles.head}>
        <Typography variant="h1">{figure.name}</Typography>
        <Box component="span" sx={styles.approved}>
          <VerdictMark verdict={book.approved ? "fine" : "stop"} size={15} />
          {book.approved ? `approved in ${card.name}` : `not approved in ${card.name}`}
        </Box>
        {chief && (
          <Button sx={{ ml: "auto" }} variant="outlined" onClick={() => setEditing(true)}>
            Set the school's standard
          </Button>
        )}
      </Box>
      <Typography sx={styles.purpose}>{figure.purpose}</Typography>
      {book.refused && (
        <Alert severity="info" sx={{ mb: 1 }}>
          {book.refused}
        </Alert>
      )}
      {answer && look && (
        <>
          <Box sx={styles.numbers}>
            {(
              [
                [
                  "Enter at",
                  answer.entry,
                  look.gate.lowest && look.gate.highest
                    ? `made from ${look.gate.lowest.number} to ${look.gate.highest.shown}`
                    : look.gate.would_help || answer.power,
                ],
                ["Likely loss", answer.likely, `19 times in 20 within ${answer.worst.shown}`],
                ["Lowest start", answer.lowest_start, `floor ${answer.floor.shown}`],
                ["Most g", answer.most_g, `highest speed ${answer.fastest.shown}`],
                ["Highest", answer.highest_point, `from ${answer.start.shown}`],
              ] as const
            ).map(([words, number, note]) => (
              <Box key={words} sx={{ maxWidth: 190 }}>
                <Typography sx={{ fontSize: 13, color: tokens.slate }}>{words}</Typography>
                <WhyNumber
                  main={words === "Likely loss"}
                  answer={number}
                  text={words === "Likely loss" && number.value < 5 ? "none" : undefined}
                  sx={styles.number}
                />
                <Typography sx={styles.note}>{note}</Typography>
              </Box>
            ))}
          </Box>
          {asks.length > 0 && (
            <Box sx={styles.asks}>
              <b>This school:</b> {asks.join("; ")}.
            </Box>
          )}
          <Box sx={styles.halves}>
            <Box>
              <SideView
                side={look.side}
                title={figure.name}
                unit={card.speed_unit}
                height={262}
                lines={[
                  {
                    words: `Start ${answer.start.shown}`,
                    feet: answer.start.value,
                    colour: tokens.plan,
                    dashed: true,
                  },
                  {
                    words: `19 times in 20 ${answer.lowest_point.shown}`,
                    feet: answer.lowest_point.value,
                    colour: tokens.slate,
                  },
                ]}
              />
              <Box sx={styles.moments}>
                {look.side.moments.slice(0, 4).map((m) => {
                  const p = nearestPoint(pointsOf(look.side), m.at);
                  return (
                    <OutOfWindow
                      key={m.at}
                      eye={eyeAlong(p, NORTHWARD)}
                      words={`${m.words}, at ${Math.round(p.ias)} ${card.speed_unit}`}
                    />
                  );
                })}
              </Box>
            </Box>
            <Box
              sx={{
                display: "grid",
                gap: 1.5,
                alignContent: "start",
                gridTemplateColumns: look.gate_map ? { xs: "1fr", md: "1fr 1fr", lg: "1fr" } : "1fr",
              }}
            >
              {look.gate_map && (
                <Box sx={{ maxWidth: 290 }}>
                  <Typography variant="h2">Entry speed by pull</Typography>
                  <GateMap
                    map={look.gate_map}
                    unit={card.speed_unit}
                    speed={look.gate_map.here_speed}
                    pull={look.gate_map.here_pull}
                  />
                </Box>
              )}
              <WhatIfs look={look} />
            </Box>
          </Box>
          {look.schools.length > 0 && <Schools book={book} />}
          <Faults book={book} figure={figure} />
        </>
      )}
      {grades && (
        <GradesTable
          asked={grades}
          gradings={[book.standard.grading ?? {}, standards?.standards.grading ?? {}]}
        />
      )}
      <History
        changes={book.changes}
        words={(doc) => standardWords(doc as Book["standard"] | null, grades)}
      />
      {editing && (
        <StandardEditor figure={figure} book={book} card={card} onClose={() => setEditing(false)} />
      )}
    </Box>
  );
}

function Schools({ book }: { book: Book }) {
  const schools = book.look?.schools ?? [];
  const cheapest = Math.min(
    ...schools.filter((s) => s.lost && !s.compared_only).map((s) => s.lost?.value ?? Infinity),
  );
  return (
    <Box component="section" aria-label="Recovery methods" sx={{ mt: 2 }}>
      <Typography variant="h2">Recovery methods side by side</Typography>
      {schools[0]?.note && (
        <Typography sx={{ fontSize: 13, color: tokens.slate }}>{schools[0].note}</Typography>
      )}
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: `repeat(${Math.min(4, schools.length)}, minmax(0, 1fr))`,
          gap: 1.2,
          mt: 0.5,
        }}
      >
        {schools.map((s) => (
          <Box
            key={s.key}
            sx={{
              bgcolor: tokens.sheet,
              border: `${s.in_use ? 2 : 1}px solid ${s.in_use ? tokens.plan : tokens.hairline}`,
              p: 1.2,
            }}
          >
            <Typography sx={{ fontWeight: 700, lineHeight: 1.2 }}>
              {s.name}
              {s.in_use && (
                <Box component="span" sx={{ color: tokens.plan, fontWeight: 620 }}>
                  {" "}
                  in use
                </Box>
              )}
            </Typography>
            {s.lost ? (
              <Typography sx={{ my: 0.3 }}>
                <WhyNumber answer={s.lost} sx={{ fontSize: 20 }} />{" "}
                {s.lost.value > cheapest + 5 && (
                  <span style={{ color: tokens.slate }}>
                    +{(Math.round((s.lost.value - cheapest) / 10) * 10).toLocaleString("en")} ft
                  </span>
                )}
              </Typography>
            ) : (
              <Typography sx={{ color: tokens.stop }}>does not recover from here</Typography>
            )}
            <Box component="ol" sx={styles.steps}>
              {s.steps.map((step) => (
                <li key={step}>{step}</li>
              ))}
            </Box>
            <Typography sx={styles.source}>{s.source}</Typography>
          </Box>
        ))}
      </Box>
    </Box>
  );
}

function Faults({ book, figure }: { book: Book; figure: Figure }) {
  const faults = book.look?.faults ?? [];
  const blocked = (key: string) => {
    const fault = figure.faults.find((f) => f.key === key);
    return fault ? blocksWords(blocksOf(fault, book.standard.blocking)) : "";
  };
  return (
    <Box component="section" aria-label="Faults" sx={{ mt: 2 }}>
      <Typography variant="h2">Faults, and what they cost</Typography>
      <Table size="small" sx={styles.faults}>
        <TableHead>
          <TableRow>
            <TableCell>Fault</TableCell>
            <TableCell align="right">Height</TableCell>
            <TableCell>Counted as</TableCell>
            <TableCell>What it does</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {faults.map((f) => (
            <TableRow key={f.key}>
              <TableCell sx={{ fontWeight: 620 }}>{f.words}</TableCell>
              <TableCell align="right" sx={{ ...narrow, whiteSpace: "nowrap" }}>
                {f.more ? (
                  <WhyNumber answer={f.more} text={f.said} />
                ) : (
                  <span style={{ color: tokens.slate }}>{f.said}</span>
                )}
              </TableCell>
              <TableCell sx={{ color: tokens.slate }}>{f.assumed}</TableCell>
              <TableCell>
                {f.does}
                {blocked(f.key) && <b>{` Dangerous: ${blocked(f.key)}.`}</b>}
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </Box>
  );
}

/** What the chief asks of this figure in this aircraft, in words. */
function asked({ standard }: Book, card: Card): string[] {
  return standardParts(standard, card.name);
}

function standardParts(standard: Book["standard"], aircraft?: string): string[] {
  const gates = Object.entries(standard.entry_ias ?? {}).filter(([name]) => !aircraft || name === aircraft);
  return [
    ...gates.map(([name, stated]) => `enter at ${stated.value} ${aircraft ? "" : `(${name})`}`.trim()),
    ...(standard.floor_ft
      ? [`floor ${standard.floor_ft.value.toLocaleString("en")} ft above the ground`]
      : []),
    ...(standard.school ? [`recovery school: ${standard.school.replace(/_/g, " ")}`] : []),
    ...(standard.words ? [`“${standard.words}”`] : []),
    ...Object.entries(standard.blocking ?? {}).map(
      ([key, blocks]) => `${key.replace(/_/g, " ")}: ${blocksWords(blocks) || "holds nobody back"}`,
    ),
  ];
}

function standardWords(standard: Book["standard"] | null, grades: GradesAsked | undefined): string {
  const parts = standard ? [...standardParts(standard), ...gradingWords(standard.grading, grades)] : [];
  return parts.join("; ") || "nothing of its own";
}
