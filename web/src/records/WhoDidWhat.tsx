import { Box, Button, MenuItem, Paper, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import { answered, api, server } from "../api/client";
import { useStudents } from "../api/questions";
import type { Done } from "../api/types";
import { DayField } from "../forms/DayField";
import { fullDayAndTime } from "../frame/dates";
import { Empty, Loading, Trouble } from "../frame/states";
import { narrow, tokens } from "../theme";

const styles = {
  sheet: {
    border: `1px solid ${tokens.hairline}`,
    p: 1.5,
    minHeight: { md: 0 },
    // On a phone what is to be done comes before what was done.
    order: { xs: 1, md: 0 },
    display: "flex",
    flexDirection: "column",
    mb: { xs: 2, md: 0 },
  },
  asked: {
    display: "grid",
    gap: 1,
    gridTemplateColumns: { xs: "minmax(0, 1fr)", sm: "repeat(6, minmax(0, 1fr))" },
    "& > *": { gridColumn: { sm: "span 2" } },
    "& > *:nth-of-type(n + 4)": { gridColumn: { sm: "span 3" } },
    my: 1,
  },
  lines: { overflow: "auto", flex: { md: 1 }, minHeight: { md: 0 }, maxHeight: { xs: "70vh", md: "none" } },
  table: {
    ...narrow,
    width: "100%",
    borderCollapse: "collapse",
    fontSize: 14.5,
    "& td, & th": {
      textAlign: "left",
      verticalAlign: "top",
      borderBottom: `1px solid ${tokens.hairline}`,
      py: 0.7,
      pr: 1.5,
    },
    "& th": { position: "sticky", top: 0, bgcolor: tokens.sheet, fontWeight: 650, color: tokens.slate },
    "& td:first-of-type": { whiteSpace: "nowrap" },
  },
  words: { color: tokens.slate, overflowWrap: "anywhere" },
  link: {
    color: tokens.plan,
    fontWeight: 620,
    lineHeight: { xs: "44px", md: "24px" },
    display: "inline-block",
  },
} as const;

interface Asked {
  by?: number;
  source?: string;
  student?: number;
  since?: string;
  until?: string;
}

/** Who did what and when, the latest first; narrowed, and taken along as a table. */
export function WhoDidWhat() {
  const [asked, setAsked] = useState<Asked>({});
  const [more, setMore] = useState<{ of: Asked; lines: Done[]; next: string } | null>(null);
  const [error, setError] = useState<unknown>(null);
  const found = api.useQuery("get", "/api/audit", { params: { query: asked } });
  const students = useStudents();
  const behind = more?.of === asked ? more : null;
  const next = behind ? behind.next : (found.data?.next ?? "");
  const lines = [...(found.data?.lines ?? []), ...(behind?.lines ?? [])];
  const change = (part: Asked) => setAsked((before) => cleaned({ ...before, ...part }));
  const goOn = () => {
    setError(null);
    answered(server.GET("/api/audit", { params: { query: { ...asked, after: next } } }))
      .then((page) =>
        setMore({ of: asked, lines: [...(behind?.lines ?? []), ...page.lines], next: page.next }),
      )
      .catch(setError);
  };
  return (
    <Paper component="section" aria-label="Who did what" sx={styles.sheet}>
      <Box sx={{ display: "flex", justifyContent: "space-between", alignItems: "center", gap: 1 }}>
        <Typography variant="h2">Who did what</Typography>
        <Button component="a" href={`/api/audit.csv?${new URLSearchParams(words(asked)).toString()}`}>
          As a table (CSV)
        </Button>
      </Box>
      <Box sx={styles.asked}>
        <Choice
          label="By"
          value={asked.by}
          options={(found.data?.people ?? []).map((p) => [p.id, p.name])}
          onValue={(by) => change({ by: by as number })}
        />
        <Choice
          label="What"
          value={asked.source}
          options={(found.data?.sources ?? []).map((s) => [s.key, s.label])}
          onValue={(source) => change({ source: source as string })}
        />
        <Choice
          label="About"
          value={asked.student}
          options={(students.data ?? []).map((s) => [s.id, s.name])}
          onValue={(student) => change({ student: student as number })}
        />
        <DayField label="From" value={asked.since} onValue={(since) => change({ since })} />
        <DayField label="To" value={asked.until} onValue={(until) => change({ until })} />
      </Box>
      {found.isPending && <Loading what="who did what" />}
      {found.isError && <Trouble error={found.error} again={() => void found.refetch()} />}
      {found.data && lines.length === 0 && <Empty>Nothing of that kind is kept.</Empty>}
      {lines.length > 0 && (
        <Box sx={styles.lines} tabIndex={0} role="region" aria-label="Lines">
          <Box component="table" sx={styles.table}>
            <thead>
              <tr>
                <th>When</th>
                <th>Who</th>
                <th>What</th>
                <th>About</th>
              </tr>
            </thead>
            <tbody>
              {lines.map((line, i) => (
                <tr key={i}>
                  <td>{fullDayAndTime(line.at)}</td>
                  <td>{line.by || "—"}</td>
                  <td>
                    {line.what}{" "}
                    <Box component="span" sx={styles.words}>
                      {line.words}
                    </Box>
                  </td>
                  <td>
                    {line.to ? (
                      <Box component={Link} to={line.to} sx={styles.link}>
                        {line.name}
                      </Box>
                    ) : (
                      line.name
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </Box>
          {error !== null && <Trouble error={error} />}
          {next && (
            <Button sx={{ mt: 1 }} onClick={goOn}>
              Earlier lines
            </Button>
          )}
        </Box>
      )}
    </Paper>
  );
}

/** What is not asked for is not sent. */
function cleaned(asked: Asked): Asked {
  return Object.fromEntries(Object.entries(asked).filter(([, value]) => value !== undefined && value !== ""));
}

function words(asked: Asked): Record<string, string> {
  return Object.fromEntries(Object.entries(asked).map(([name, value]) => [name, String(value)]));
}

interface ChoiceProps {
  label: string;
  value: number | string | undefined;
  options: [number | string, string][];
  onValue: (value: number | string | undefined) => void;
}

function Choice({ label, value, options, onValue }: ChoiceProps) {
  const there = options.some(([key]) => key === value);
  return (
    <TextField
      select
      size="small"
      label={label}
      value={there ? value : ""}
      onChange={(e) => onValue(e.target.value === "" ? undefined : e.target.value)}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
    >
      <MenuItem value="">all</MenuItem>
      {options.map(([key, name]) => (
        <MenuItem key={key} value={key}>
          {name}
        </MenuItem>
      ))}
    </TextField>
  );
}
