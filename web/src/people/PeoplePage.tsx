import { Box, Button, Paper, Table, TableBody, TableCell, TableHead, TableRow } from "@mui/material";
import { useCallback, useState } from "react";
import { Link } from "react-router";
import { api } from "../api/client";
import type { LinkMade, PersonLine } from "../api/types";
import { dayAndTime, fullDay } from "../frame/dates";
import { Loading, Trouble } from "../frame/states";
import { useOpens } from "../frame/useOpens";
import { useTitle } from "../frame/useTitle";
import { SchoolHead } from "../school/SchoolHead";
import { narrow, tokens } from "../theme";
import { EraseDialog } from "./EraseDialog";
import { LeaveDialog } from "./LeaveDialog";
import { Letters } from "./Letters";
import { LinkDialog } from "./LinkDialog";
import { PersonDialog } from "./PersonDialog";
import { PersonMenu, type PersonAct } from "./PersonMenu";
import { rolesOf } from "./roles";

const styles = {
  page: { p: 2 },
  sheet: { border: `1px solid ${tokens.hairline}`, overflow: "auto" },
  table: { ...narrow, "& td, & th": { px: 1.2, verticalAlign: "top" } },
  name: { fontWeight: 700, fontSize: 16, color: tokens.plan },
  small: { fontSize: 13.5, color: tokens.slate },
  gone: { color: tokens.slate },
} as const;

/** Everybody who belongs to the school or did: asked in by a link, changed, gone and back, erased. */
export default function PeoplePage() {
  useTitle("People");
  const found = api.useQuery("get", "/api/people");
  const [open, setOpen] = useState<{ act: PersonAct | "new"; person?: PersonLine } | null>(null);
  const [link, setLink] = useState<LinkMade | null>(null);
  const close = () => setOpen(null);
  useOpens(useCallback(() => setOpen({ act: "new" }), []));
  if (found.isPending) return <Loading what="the people" />;
  if (found.isError) return <Trouble error={found.error} again={() => void found.refetch()} />;
  const here = found.data.filter((p) => p.state === "in" || p.state === "asked in");
  return (
    <Box component="main" sx={styles.page}>
      <SchoolHead title={`People: ${here.length}`}>
        <Letters />
        <Button variant="contained" onClick={() => setOpen({ act: "new" })}>
          Ask somebody in
        </Button>
      </SchoolHead>
      <Paper sx={styles.sheet}>
        <Table size="small" sx={styles.table}>
          <TableHead>
            <TableRow>
              <TableCell>Name</TableCell>
              <TableCell>Does</TableCell>
              <TableCell>Is</TableCell>
              <TableCell>Logged in last</TableCell>
              <TableCell>Second factor</TableCell>
              <TableCell>Still to instruct or sign</TableCell>
              <TableCell align="right">Do</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {found.data.map((person) => (
              <Row key={person.id} person={person} onAct={(act) => setOpen({ act, person })} />
            ))}
          </TableBody>
        </Table>
      </Paper>
      {open?.act === "new" && <PersonDialog onClose={close} onLink={setLink} />}
      {open?.act === "change" && <PersonDialog person={open.person} onClose={close} onLink={setLink} />}
      {open?.act === "leave" && open.person && (
        <LeaveDialog person={open.person} people={here} onClose={close} />
      )}
      {open?.act === "erase" && open.person && <EraseDialog person={open.person} onClose={close} />}
      {open?.act === "link" && open.person && (
        <LinkDialog person={open.person} onClose={close} onLink={setLink} />
      )}
      {link && <LinkDialog person={link.person} made={link} onClose={() => setLink(null)} onLink={setLink} />}
    </Box>
  );
}

function Row({ person, onAct }: { person: PersonLine; onAct: (act: PersonAct) => void }) {
  const gone = person.state === "left" || person.state === "erased";
  return (
    <TableRow sx={gone ? styles.gone : undefined}>
      <TableCell>
        <Box sx={styles.name}>
          {person.student_id === null || person.state === "erased" ? (
            person.name
          ) : (
            <Link to={`/students/${person.student_id}`} style={{ color: "inherit" }}>
              {person.name}
            </Link>
          )}
        </Box>
        <Box sx={styles.small}>
          {person.username}
          {person.email && `, ${person.email}`}
        </Box>
      </TableCell>
      <TableCell>{rolesOf(person)}</TableCell>
      <TableCell>{stateOf(person)}</TableCell>
      <TableCell>{person.last_login ? dayAndTime(person.last_login) : "never"}</TableCell>
      <TableCell>{person.second_factor ? "on" : "off"}</TableCell>
      <TableCell>{person.ahead || ""}</TableCell>
      <TableCell align="right">
        {person.state === "erased" ? (
          <Button size="small" onClick={() => onAct("erase")}>
            What is kept…
          </Button>
        ) : (
          <PersonMenu person={person} onAct={onAct} />
        )}
      </TableCell>
    </TableRow>
  );
}

function stateOf({ state, since, left_why }: PersonLine): string {
  if (state === "asked in") return `asked in${since ? ` ${fullDay(since)}` : ""}, no password yet`;
  if (state === "left") return `left${since ? ` ${fullDay(since)}` : ""}: ${left_why}`;
  return state === "erased" ? "erased" : "here";
}
