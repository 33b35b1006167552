import { Box, Button, Paper, Typography } from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import { api } from "../api/client";
import type { Requirements as Found } from "../api/types";
import { fullDay } from "../frame/dates";
import { Empty, Loading, Trouble } from "../frame/states";
import { narrow, tokens } from "../theme";
import { VerdictMark } from "../verdict/VerdictMark";
import { hours } from "./hours";
import { StatementDialog } from "./StatementDialog";
import { TakeBackDialog } from "./TakeBackDialog";

const styles = {
  all: { overflow: "auto", display: "grid", gap: 1.5, alignContent: "start", minHeight: 0 },
  one: { border: `1px solid ${tokens.hairline}`, px: 2, py: 1.2 },
  head: { display: "flex", alignItems: "flex-start", gap: 1.2 },
  ahead: {
    width: 16,
    height: 16,
    mt: "1px",
    flex: "none",
    borderRadius: "50%",
    border: `2px solid ${tokens.slate}`,
  },
  source: { fontSize: 13, color: tokens.slate },
  line: {
    display: "grid",
    gridTemplateColumns: { xs: "1fr", sm: "minmax(0, 1.2fr) 170px minmax(0, 1fr)" },
    columnGap: 2,
    alignItems: "center",
    py: 0.5,
    borderTop: `1px solid ${tokens.hairline}`,
  },
  bar: { height: 9, bgcolor: tokens.hardPale, position: "relative" },
  full: { position: "absolute", inset: "0 auto 0 0", bgcolor: tokens.plan },
  has: { ...narrow, fontWeight: 700 },
  counted: { ...narrow, fontSize: 13.5, pl: 2, m: 0 },
} as const;

/** What is required of somebody, how much of it is there and what is missing. It is counted, never granted. */
export function Requirements({ person }: { person: number }) {
  const found = api.useQuery("get", "/api/requirements/{person_id}", {
    params: { path: { person_id: person } },
  });
  const [stating, setStating] = useState<string | null>(null);
  const [takingBack, setTakingBack] = useState<Found["stated"][number] | null>(null);
  if (found.isPending) return <Loading what="what is required" />;
  if (found.isError) return <Trouble error={found.error} again={() => void found.refetch()} />;
  const { standings, stated, may_state } = found.data;
  if (standings.length === 0) return <Empty>Nothing is required that the program counts.</Empty>;
  return (
    <Box sx={styles.all} tabIndex={0} role="group" aria-label="Requirements">
      <Typography sx={styles.source}>
        Counted from signed flights, ground items and what is on record. The program grants nothing: who is
        authorised signs, and the rules have to be confirmed for the place and the day.
      </Typography>
      {standings.map((standing) => (
        <Paper key={standing.requirement.key} sx={styles.one} component="section">
          <Box sx={styles.head}>
            <Met standing={standing} />
            <Box sx={{ flex: 1 }}>
              <Typography variant="h2">{standing.requirement.name}</Typography>
              <Typography sx={styles.source}>
                Before {standing.requirement.gives}. Source: {standing.requirement.source}.
              </Typography>
            </Box>
            {may_state && (
              <Button size="small" onClick={() => setStating(standing.requirement.key)}>
                Put on record
              </Button>
            )}
          </Box>
          {standing.lines.map((line) => (
            <Line key={line.what} line={line} enough={standing.met} />
          ))}
          {standing.not_counted.map((words) => (
            <Typography key={words} sx={styles.source}>
              Not counted: {words}.
            </Typography>
          ))}
          {stated
            .filter((s) => s.requirement === standing.requirement.key)
            .map((s) => (
              <Box key={s.id} sx={{ display: "flex", alignItems: "center", gap: 1 }}>
                <Typography sx={{ ...styles.source, flex: 1 }}>
                  On record: {s.what === "signature" ? "signed" : s.what} {s.amount > 0 && s.amount}{" "}
                  {fullDay(s.on)}, {s.by}
                  {s.words && `: ${s.words}`}. Entered by {s.recorded_by}.
                </Typography>
                {may_state && (
                  <Button size="small" onClick={() => setTakingBack(s)} aria-label={`Take back: ${s.by}`}>
                    Take back
                  </Button>
                )}
              </Box>
            ))}
        </Paper>
      ))}
      {stating !== null && (
        <StatementDialog found={found.data} requirement={stating} onClose={() => setStating(null)} />
      )}
      {takingBack && <TakeBackDialog statement={takingBack} onClose={() => setTakingBack(null)} />}
    </Box>
  );
}

type LineFound = Found["standings"][number]["lines"][number];

function Line({ line, enough }: { line: LineFound; enough: boolean }) {
  const [open, setOpen] = useState(false);
  const sums = line.what === "flight" || line.what === "ground" || line.what === "flights";
  return (
    <Box sx={styles.line}>
      <Typography>{line.words}</Typography>
      <Box>
        <Box sx={styles.has}>{hasWords(line)}</Box>
        {sums && (
          <Box sx={styles.bar} aria-hidden>
            <Box sx={styles.full} style={{ width: `${Math.min(100, (100 * line.has) / line.asked)}%` }} />
          </Box>
        )}
      </Box>
      <Box>
        {line.missing && (
          <Typography sx={{ color: enough ? tokens.slate : tokens.mindInk, fontWeight: 600 }}>
            {sums ? "Missing: " : ""}
            {line.missing}
          </Typography>
        )}
        {line.counted.length > 0 && (
          <Button size="small" onClick={() => setOpen(!open)} aria-expanded={open} sx={{ px: 0.5 }}>
            What counts: {line.counted.length}
          </Button>
        )}
      </Box>
      {open && (
        <Box component="ul" sx={{ ...styles.counted, gridColumn: "1 / -1" }}>
          {line.counted.map((c, i) => (
            <li key={i}>
              {c.sortie === null ? (
                fullDay(c.on)
              ) : (
                <Link to={`/sorties/${c.sortie}/sign`} style={{ color: tokens.plan }}>
                  {fullDay(c.on)}
                </Link>
              )}{" "}
              {c.words}
              {sums && line.unit === "h" && `, ${hours(60 * c.amount)}`}
            </li>
          ))}
        </Box>
      )}
    </Box>
  );
}

/** To an instructor who goes on teaching what is missing is something to mind; to a student it is what is ahead. */
function Met({ standing }: { standing: Found["standings"][number] }) {
  if (standing.met || standing.requirement.whom === "instructor")
    return <VerdictMark verdict={standing.met ? "fine" : "mind"} size={18} />;
  return <Box role="img" aria-label="not yet" sx={styles.ahead} />;
}

function hasWords(line: LineFound): string {
  if (line.what === "signature") return line.has > 0 ? "On record" : "Not yet";
  if (line.what === "recent")
    return line.counted.length === 0 ? "None" : `${line.has} days ago, ${line.asked} at most`;
  return line.unit === "h"
    ? `${hours(60 * line.has)} of ${hours(60 * line.asked)}`
    : `${line.has} of ${line.asked} ${line.unit}`;
}
