import { Box, Button } from "@mui/material";
import { useEffect, useEffectEvent, useState } from "react";
import { useSearchParams } from "react-router";
import { answered, server } from "../../api/client";
import { useRecordings } from "../../api/questions";
import type { ColumnMap, LookedAt, Recorded } from "../../api/types";
import { fileFrom, look, Stopped, upload } from "../../api/upload";
import { FileZone, type Going } from "../../frame/FileZone";
import { Trouble } from "../../frame/states";
import { narrow, tokens } from "../../theme";
import type { SortieWork } from "../useSortie";
import { HowRead } from "./HowRead";
import { useReadAgain, useReadOtherwise } from "./useReadAgain";
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
  file: { fontSize: 13, lineHeight: 1.25 },
  name: { fontWeight: 660, overflowWrap: "anywhere" },
  said: { ...narrow, color: tokens.slate, fontSize: 13 },
  small: { px: 0.5, minWidth: 0 },
  doubt: { color: tokens.mindInk, fontSize: 13 },
} as const;

/** The recorder's files of a sortie: read, looked into, taken back. */
export function Recordings({ work }: { work: SortieWork }) {
  const id = work.sortie.id;
  const found = useRecordings(id);
  const [going, setGoing] = useState<Going | null>(null);
  const [failed, setFailed] = useState<unknown>(null);
  const [looked, setLooked] = useState<Recorded | null>(null);
  const [asked, setAsked] = useState<{ file: File; looked: LookedAt; columns: ColumnMap } | null>(null);
  const [parameters, setParameters] = useSearchParams();
  const offered = parameters.get("inbox");
  const changed = useReadAgain(work);
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
    const sending = upload(id, file, columns, (share) =>
      setGoing({ name: file.name, share, stop: sending.stop }),
    );
    setGoing({ name: file.name, share: 0, stop: sending.stop });
    try {
      await sending.done;
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
      const file = await fileFrom(`/api/sorties/${id}/recordings/${one.id}/file`, one.name);
      const looked = await look(id, file);
      const columns = one.flight.columns ?? looked.columns;
      if (columns) setAsked({ file, looked, columns });
    } catch (error) {
      setFailed(error);
    }
  };
  const without = async (one: Recorded, to: "aside" | "elsewhere") => {
    setLooked(null);
    try {
      const path = { sortie_id: id, recording_id: one.id };
      await answered(
        server.POST(`/api/sorties/{sortie_id}/recordings/{recording_id}/${to}`, { params: { path } }),
      );
      await changed();
    } catch (error) {
      setFailed(error);
    }
  };
  /** One that waited, and is taken into this sortie. */
  const take = useEffectEvent(async (waiting: string) => {
    setParameters({}, { replace: true });
    try {
      const { data } = await server.GET("/api/inbox");
      const name = data?.find((one) => one.id === Number(waiting))?.name ?? "recording";
      await chosen(await fileFrom(`/api/inbox/${waiting}/file`, name));
    } catch (error) {
      setFailed(error);
    }
  });
  useEffect(() => {
    if (!offered) return;
    const soon = setTimeout(() => void take(offered));
    return () => clearTimeout(soon);
  }, [offered]);
  const may = work.sortie.may.note;
  const there = found.data ?? [];
  if (!may && there.length === 0) return null;
  return (
    <FileZone
      label="Recordings"
      words="Read a recorder’s file…"
      hint={there.length === 0 ? "A table, IGC or GPX; drop it here, or choose it." : ""}
      may={may}
      going={going}
      onFile={(file) => void chosen(file)}
      sx={styles.zone}
    >
      {there.map((one) => (
        <OneFile
          key={one.id}
          one={one}
          work={work}
          onLook={() => setLooked(one)}
          onElsewhere={() => void without(one, "elsewhere")}
        />
      ))}
      {failed !== null && <Trouble error={failed} />}
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
          one={there.find((one) => one.id === looked.id) ?? looked}
          work={work}
          close={() => setLooked(null)}
          otherwise={may && looked.flight.columns ? () => void otherwise(looked) : undefined}
          aside={may && !looked.set_aside ? () => void without(looked, "aside") : undefined}
        />
      )}
    </FileZone>
  );
}

interface OneFileProps {
  one: Recorded;
  work: SortieWork;
  onLook: () => void;
  onElsewhere: () => void;
}

/** A recording in short, with what speaks against it while it counts. */
function OneFile({ one, work, onLook, onElsewhere }: OneFileProps) {
  const again = useReadOtherwise(work, one);
  const may = work.sortie.may.note;
  const { flight, without, marks } = one.flight;
  if (one.set_aside)
    return (
      <Box sx={styles.file}>
        <Box sx={styles.name}>{one.name}</Box>
        <Box sx={styles.said}>taken back: its numbers do not count</Box>
        <Button size="small" sx={styles.small} onClick={onLook}>
          How it was read
        </Button>
      </Box>
    );
  return (
    <Box sx={styles.file}>
      <Box sx={styles.name}>{one.name}</Box>
      <Box sx={styles.said}>{inShort(one)}</Box>
      {one.doubts.map((line) => (
        <Box key={line} sx={styles.doubt}>
          {line}
        </Box>
      ))}
      {one.outdated && (
        <Box sx={styles.doubt}>
          Plan, day, load or what was tapped in flight changed since: heights and names are of before.
        </Box>
      )}
      <Button size="small" sx={styles.small} onClick={onLook}>
        How it was read
      </Button>
      {may && one.doubts.length > 0 && (
        <Button size="small" sx={styles.small} onClick={onElsewhere}>
          It is of another flight
        </Button>
      )}
      {may && one.outdated && (
        <Button
          size="small"
          sx={styles.small}
          disabled={again.reading}
          onClick={() => again.read({ flight, without, figures: marks })}
        >
          Read it again
        </Button>
      )}
      {again.error != null && <Trouble error={again.error} />}
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
