import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  LinearProgress,
  Typography,
} from "@mui/material";
import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { answered, server } from "../../api/client";
import { askAgain, useRecordings } from "../../api/questions";
import type { ColumnMap, LookedAt, Recorded } from "../../api/types";
import { Trouble } from "../../frame/states";
import { narrow, tokens } from "../../theme";
import type { SortieWork } from "../useSortie";
import { fileOf, look, Stopped, upload, type Upload } from "./upload";
import { WhichColumns } from "./WhichColumns";

const styles = {
  zone: {
    borderTop: `1px solid ${tokens.hairline}`,
    mt: 1.5,
    pt: 1.2,
    display: "grid",
    gap: 0.8,
    borderRadius: 1,
  },
  over: { outline: `2px dashed ${tokens.flown}`, outlineOffset: 3 },
  file: { fontSize: 13, lineHeight: 1.25 },
  name: { fontWeight: 660, overflowWrap: "anywhere" },
  said: { ...narrow, color: tokens.slate, fontSize: 13 },
  list: { m: 0, pl: 2.2, fontSize: 14, "& li": { mb: 0.5 } },
} as const;

/** The recorder's files of a sortie: read, looked into, taken back. */
export function Recordings({ work }: { work: SortieWork }) {
  const id = work.sortie.id;
  const queries = useQueryClient();
  const found = useRecordings(id);
  const [going, setGoing] = useState<{ name: string; share: number } | null>(null);
  const [failed, setFailed] = useState<unknown>(null);
  const [over, setOver] = useState(false);
  const [looked, setLooked] = useState<Recorded | null>(null);
  const [asked, setAsked] = useState<{ file: File; looked: LookedAt; columns: ColumnMap } | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const sending = useRef<Upload | null>(null);
  const changed = async () => {
    askAgain(queries, "/api/sorties/{sortie_id}/recordings", "/api/sorties/{sortie_id}/traces/{attempt}");
    await work.refresh();
  };
  const chosen = async (file: File) => {
    setFailed(null);
    try {
      const looked = await look(id, file);
      if (looked.columns && !looked.ready) setAsked({ file, looked, columns: looked.columns });
      else await read(file, looked.columns);
    } catch (error) {
      setFailed(error);
    }
  };
  const read = async (file: File, columns: ColumnMap | null) => {
    setAsked(null);
    setGoing({ name: file.name, share: 0 });
    sending.current = upload(id, file, columns, (share) => setGoing({ name: file.name, share }));
    try {
      await sending.current.done;
      await changed();
    } catch (error) {
      if (!(error instanceof Stopped)) setFailed(error);
    } finally {
      setGoing(null);
    }
  };
  /** The file comes back from the server: nobody has to have it at hand. */
  const otherwise = async (one: Recorded) => {
    setLooked(null);
    setFailed(null);
    try {
      const file = await fileOf(id, one);
      const looked = await look(id, file);
      const columns = one.flight.columns ?? looked.columns;
      if (columns) setAsked({ file, looked, columns });
    } catch (error) {
      setFailed(error);
    }
  };
  const aside = async (one: Recorded) => {
    setLooked(null);
    try {
      const path = { sortie_id: id, recording_id: one.id };
      await answered(
        server.POST("/api/sorties/{sortie_id}/recordings/{recording_id}/aside", { params: { path } }),
      );
      await changed();
    } catch (error) {
      setFailed(error);
    }
  };
  const may = work.sortie.may.note;
  const there = found.data ?? [];
  if (!may && there.length === 0) return null;
  return (
    <Box
      component="section"
      aria-label="Recordings"
      data-print="no"
      sx={over ? { ...styles.zone, ...styles.over } : styles.zone}
      onDragOver={(e) => {
        if (!may) return;
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        const file = e.dataTransfer.files[0];
        if (file && may && !going) void chosen(file);
      }}
    >
      {there.map((one) => (
        <Box key={one.id} sx={styles.file}>
          <Box sx={styles.name}>{one.name}</Box>
          <Box sx={styles.said}>{one.set_aside ? "taken back: its numbers do not count" : inShort(one)}</Box>
          <Button size="small" sx={{ px: 0.5, minWidth: 0 }} onClick={() => setLooked(one)}>
            How it was read
          </Button>
        </Box>
      ))}
      {going && (
        <Box role="status" sx={styles.file}>
          <Box sx={styles.name}>{going.name}</Box>
          <LinearProgress
            aria-label={`Sending ${going.name}`}
            variant={going.share < 1 ? "determinate" : "indeterminate"}
            value={100 * going.share}
            sx={{ my: 0.6 }}
          />
          <Box sx={styles.said}>
            {going.share < 1 ? `${Math.round(100 * going.share)} % sent` : "Being read"}
          </Box>
          <Button size="small" onClick={() => sending.current?.stop()}>
            Stop
          </Button>
        </Box>
      )}
      {failed !== null && <Trouble error={failed} />}
      {may && !going && (
        <Button variant="outlined" size="small" onClick={() => input.current?.click()} sx={{ minHeight: 44 }}>
          Read a recorder’s file…
        </Button>
      )}
      {may && there.length === 0 && !going && (
        <Typography sx={styles.said}>A table, IGC or GPX; drop it here, or choose it.</Typography>
      )}
      <input
        ref={input}
        type="file"
        hidden
        aria-label="Recorder's file"
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = "";
          if (file) void chosen(file);
        }}
      />
      {asked && (
        <WhichColumns
          name={asked.file.name}
          looked={asked.looked}
          columns={asked.columns}
          close={() => setAsked(null)}
          read={(columns) => void read(asked.file, columns)}
        />
      )}
      {looked && (
        <HowRead
          one={looked}
          sortie={id}
          close={() => setLooked(null)}
          otherwise={may && looked.flight.columns ? () => void otherwise(looked) : undefined}
          aside={may && !looked.set_aside ? () => void aside(looked) : undefined}
        />
      )}
    </Box>
  );
}

/** "8 figures found, 1 not planned; 3 lines not read". */
export function inShort(one: Recorded): string {
  const { figures, counts } = one.flight;
  const unplanned = figures.filter((f) => f.place === "unplanned").length;
  const left = Object.values(counts).reduce((sum, n) => sum + n, 0);
  const found = `${figures.length} ${figures.length === 1 ? "figure" : "figures"} found`;
  return [
    unplanned > 0 ? `${found}, ${unplanned} not planned` : found,
    left > 0 && `${left.toLocaleString("en")} ${left === 1 ? "field or line" : "fields or lines"} left out`,
  ]
    .filter(Boolean)
    .join("; ");
}

interface HowReadProps {
  one: Recorded;
  sortie: number;
  close: () => void;
  otherwise: (() => void) | undefined;
  aside: (() => void) | undefined;
}

/** What was done to it, what could not be read, what cannot be judged, and how sure each name is. */
function HowRead({ one, sortie, close, otherwise, aside }: HowReadProps) {
  const { flight } = one;
  const lists: [string, string[]][] = [
    [
      "Figures",
      flight.figures.map((f) => {
        const sure = f.sure >= 0.95 ? "sure" : `${Math.round(100 * f.sure)} % sure`;
        const other = f.could_be[0] && f.sure < 0.95 ? `; or ${f.could_be[0].title}` : "";
        const place = f.place === "planned" ? "" : `, ${f.place === "again" ? "flown again" : "not planned"}`;
        return `${f.title}${place}: ${sure}${other}`;
      }),
    ],
    ["Done to it", flight.cleaned.map((step) => step.words)],
    ["Not judged", flight.missing],
    [
      "Not read",
      flight.problems.map((p) => {
        const where = [p.line !== null && `line ${p.line}`, p.header].filter(Boolean).join(", ");
        return `${where}: ${p.what}. ${p.do}`;
      }),
    ],
    [
      "Columns",
      (flight.columns?.columns ?? [])
        .filter((c) => c.header !== c.column || !c.sure)
        .map((c) => `${c.header}: ${c.column} in ${c.unit}${c.sure ? "" : " (assumed)"}`),
    ],
  ];
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm">
      <DialogTitle sx={{ overflowWrap: "anywhere" }}>{one.name}</DialogTitle>
      <DialogContent>
        <Typography sx={{ ...styles.said, overflowWrap: "anywhere" }}>
          {flight.rows.toLocaleString("en")} rows
          {flight.flights > 1 && ` in ${flight.flights} flights, the first is read`}; read in by {one.by};
          SHA-256 {one.digest}
        </Typography>
        {lists
          .filter(([, lines]) => lines.length > 0)
          .map(([words, lines]) => (
            <Box key={words} sx={{ mt: 1.5 }}>
              <Typography variant="h2" component="h3">
                {words}
              </Typography>
              <Box component="ul" sx={styles.list}>
                {lines.map((line) => (
                  <li key={line}>{line}</li>
                ))}
              </Box>
            </Box>
          ))}
      </DialogContent>
      <DialogActions>
        <Button component="a" href={`/api/sorties/${sortie}/recordings/${one.id}/file`}>
          The file as it came
        </Button>
        {otherwise && <Button onClick={otherwise}>Read it otherwise…</Button>}
        {aside && <Button onClick={aside}>Take its numbers back</Button>}
        <Button variant="contained" onClick={close}>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  );
}
