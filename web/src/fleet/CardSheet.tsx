import { Box, Paper, Table, TableBody, TableCell, TableHead, TableRow, Typography } from "@mui/material";
import { api } from "../api/client";
import type { Aircraft, BlankCost, Card, FieldSpec } from "../api/types";
import { byHeading, statedAt } from "../forms/fill";
import { ReadRows } from "../forms/StatedTable";
import { day } from "../frame/dates";
import { tokens } from "../theme";
import { VerdictMark } from "../verdict/VerdictMark";

const styles = {
  spins: { display: "flex", gap: 1, alignItems: "center", fontWeight: 680 },
  fit: { border: `1px solid ${tokens.hairline}`, p: 1.5, mb: 2, maxWidth: 520 },
  blanks: { border: `1px solid ${tokens.hairline}`, p: 1.5, mb: 2 },
  costs: { "& td, & th": { py: 0.4, px: 0.7, verticalAlign: "top" } },
  how: { fontSize: 12.5, color: tokens.slate },
  fitted: { display: "grid", gridTemplateColumns: "1fr 110px 110px", gap: 1 },
  small: { fontSize: 13, mt: 0.5 },
} as const;

const FACTS = { display: "flex", gap: 3, flexWrap: "wrap", mb: 1.5, alignItems: "center" };
const SHEETS = { columns: "300px", columnGap: 2, "& > *": { breakInside: "avoid", mb: 2 } };

interface Props {
  aircraft: Aircraft;
  fields: FieldSpec[];
  /** Figures' names by their keys. */ names: Map<string, string>;
}

/** An aircraft's card to read, every number with its source. */
export function CardSheet({ aircraft, fields, names }: Props) {
  const { card } = aircraft;
  const spins = card.spin?.approved ?? false;
  const stated = fields.filter((f) => f.enter === "stated" && (f.within !== "spin" || card.spin));
  const estimates = new Map(aircraft.blanks.map((line) => [line.path as string, line]));
  const sourceless = stated.filter((f) => statedAt(card, f.path)?.source === "not given").length;
  return (
    <>
      <Box sx={FACTS}>
        <Typography sx={styles.spins}>
          <VerdictMark verdict={spins ? "fine" : "stop"} />
          {spins ? "Spins approved" : "Spins not approved"}
        </Typography>
        <Typography>
          {card.category} category, {card.thrust}
        </Typography>
        <Typography>
          Parachutes packed {aircraft.parachutes_packed_on ? day(aircraft.parachutes_packed_on) : "not known"}
        </Typography>
      </Box>
      <Typography sx={{ mb: 1.5, fontSize: 14 }}>
        <b>Approved:</b>{" "}
        {Object.keys(card.approved)
          .map((key) => (names.get(key) ?? key).toLowerCase())
          .join(", ")}
      </Typography>
      {card.spin && (card.spin.recovery ?? []).length > 0 && (
        <Typography sx={{ mb: 1.5 }}>
          <b>
            Spin recovery of the manual ({card.spin.ref}), for the {card.spin.recovery_for?.join(", ")} spin:
          </b>{" "}
          {card.spin.recovery?.join(" ")}
        </Typography>
      )}
      <Typography sx={{ mb: 1.5 }}>
        <b>Leaving the aircraft:</b> {(card.leaving ?? []).join(" ") || "not on the card"}
      </Typography>
      {sourceless > 0 && (
        <Typography sx={{ ...styles.spins, mb: 1 }}>
          <VerdictMark verdict="mind" />
          {sourceless === 1 ? "1 number has no source yet." : `${sourceless} numbers have no source yet.`}
        </Typography>
      )}
      <SpinFit lines={aircraft.spin_fit} />
      {aircraft.blanks.length > 0 && <BlankCosts aircraft={aircraft} />}
      <Box sx={SHEETS}>
        {byHeading([...stated.filter((f) => f.under !== ""), ...stated.filter((f) => f.under === "")])
          .filter(([heading]) => !heading.startsWith("Spin, "))
          .map(([heading, group]) => (
            <Paper key={heading} sx={{ border: `1px solid ${tokens.hairline}`, p: 1.5 }}>
              <Typography variant="h2">{heading || "Engine"}</Typography>
              <ReadRows document={card} fields={group} speedUnit={card.speed_unit} estimates={estimates} />
            </Paper>
          ))}
      </Box>
    </>
  );
}

/** What the card says of its spin beside what the motion gives: both, where they are not one. */
export function SpinFit({ lines }: { lines: Aircraft["spin_fit"] }) {
  const apart = lines.filter((line) => line.apart);
  if (apart.length === 0) return null;
  return (
    <Paper sx={styles.fit}>
      <Typography variant="h2">Spin: the card says, the motion gives</Typography>
      {apart.map((line) => (
        <Box key={line.label}>
          <Typography sx={styles.fitted}>
            <span>{line.label}</span>
            <b>{line.said}</b>
            <b>{line.given}</b>
          </Typography>
          <Typography sx={styles.small}>{line.check}</Typography>
        </Box>
      ))}
      <Typography sx={styles.small}>
        Plans use the motion, and never less height than the card says.
      </Typography>
    </Paper>
  );
}

/** What is blank on the card and estimated, and what that adds to lowest starts, the dearest first. */
export function BlankCosts({ aircraft }: { aircraft: Aircraft }) {
  const found = api.useQuery("get", "/api/aircraft/{aircraft_id}/blanks", {
    params: { path: { aircraft_id: aircraft.id } },
  });
  const costs: Partial<BlankCost>[] = found.data?.costs ?? aircraft.blanks.map((number) => ({ number }));
  return (
    <Paper sx={styles.blanks} component="section" aria-label="Left blank on the card">
      <Table size="small" sx={styles.costs}>
        <TableHead>
          <TableRow>
            <TableCell>Left blank on the card</TableCell>
            <TableCell>Estimated</TableCell>
            <TableCell>Adds to the lowest start</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {costs.map(({ number, adds, figure }) => (
            <TableRow key={number?.path}>
              <TableCell>
                {number?.label}
                <Box sx={styles.how}>{number?.how}</Box>
              </TableCell>
              <TableCell>
                <b>{number?.shown}</b>
                <Box sx={styles.how}>{number?.between}</Box>
              </TableCell>
              <TableCell>
                {adds ? <b>{adds}</b> : adds === "" ? "nothing" : "…"}
                <Box sx={styles.how}>{figure}</Box>
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      <Typography sx={styles.small}>
        {found.isPending
          ? "What each adds is being computed."
          : found.isError
            ? "What each adds could not be computed. Reload the page to try again."
            : "Of the approved figure that it adds most to, on a standard day at sea level. A number that you type in adds nothing."}
      </Typography>
    </Paper>
  );
}

/** What of a card is told apart in its history. */
export function cardWords(document: unknown): string {
  const { card, parachutes_packed_on } = (document ?? {}) as { card?: Card; parachutes_packed_on?: string };
  if (!card) return "not in the fleet";
  const { stall_ias, manoeuvring_ias, never_exceed_ias } = card.speeds;
  return [
    `stall ${stall_ias.value}`,
    `Va ${manoeuvring_ias.value}`,
    `Vne ${never_exceed_ias.value} ${card.speed_unit}`,
    `${card.limits.most_g.value} g`,
    `parachutes ${parachutes_packed_on ?? "not known"}`,
  ].join(", ");
}
