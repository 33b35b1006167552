import { Box } from "@mui/material";
import { dayAndTime } from "../../frame/dates";
import { narrow } from "../../theme";
import type { SortieWork } from "../useSortie";

const styles = {
  head: { display: "flex", justifyContent: "space-between", fontSize: "13pt", fontWeight: 760 },
  floor: { fontSize: "12pt", fontWeight: 700, my: "4px" },
} as const;

/** One clean page for the kneeboard. On screen it is not there; print shows nothing else. */
export function KneeCard({ work }: { work: SortieWork }) {
  const { sortie, answer } = work;
  const cell = { border: "1px solid #000", padding: "3px 5px", verticalAlign: "top" } as const;
  return (
    <Box
      className="knee-card"
      sx={{
        display: "none",
        "@media print": {
          display: "block",
          color: "#000",
          ...narrow,
          fontSize: "10.5pt",
          lineHeight: 1.25,
          "& td, & th": cell,
          "& table": { borderCollapse: "collapse", width: "100%" },
          "& th": { textAlign: "left", fontSize: "8pt" },
        },
      }}
    >
      {sortie.cancelled !== null && <b>CANCELLED: {sortie.cancelled}</b>}
      <Box sx={styles.head}>
        <span>{sortie.lesson_name}</span>
        <span>{sortie.student}</span>
      </Box>
      <Box>
        {sortie.aircraft} {sortie.aircraft_name} · {sortie.place} · {dayAndTime(sortie.planned_for)} ·{" "}
        {sortie.instructor}
      </Box>
      <Box sx={styles.floor}>
        Floor {answer.floor.shown} · Block top {answer.block_top.shown}
        {answer.leave && ` · Leave at ${answer.leave.shown}`} · QNH {work.draft.plan.day.qnh_hpa ?? "—"}
      </Box>
      <table>
        <thead>
          <tr>
            <th>Figure</th>
            <th>Start</th>
            <th>Lowest start</th>
            <th>Enter</th>
            <th>My controls</th>
            <th>Loss</th>
          </tr>
        </thead>
        <tbody>
          {answer.figures.map((f, i) => (
            <tr key={f.id} style={{ breakInside: "avoid" }}>
              <td>
                <b>
                  {i + 1} {f.title}
                </b>
                <br />
                {f.spoken}
              </td>
              <td style={{ fontSize: "14pt", fontWeight: 760, whiteSpace: "nowrap" }}>{f.start.number}</td>
              <td>{f.lowest_start.number}</td>
              <td style={{ whiteSpace: "nowrap" }}>{f.entry.shown}</td>
              <td>{f.take_over.number}</td>
              <td>
                {f.likely.number}
                <br />
                {f.worst.number}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {answer.unseen && <Box sx={styles.floor}>{answer.unseen}</Box>}
      <Box sx={{ mt: "4px", fontSize: "8pt" }}>
        Heights in ft on QNH. Loss: likely, and 19 times in 20. "You have control." "I have control." Va{" "}
        {answer.manoeuvring.shown}, stall {answer.stall.shown}, {answer.weight.shown}. A training aid: the
        flight manual, local rules and your instructor come first. Keel Turn.
      </Box>
    </Box>
  );
}
