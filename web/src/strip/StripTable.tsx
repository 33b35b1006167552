import { Box } from "@mui/material";
import type { Attempt, PlanAnswer } from "../api/types";
import { unseen } from "../theme";
import { numberOf } from "./layout";

/** The height strip in text. */
export function StripTable({ answer, attempts }: { answer: PlanAnswer; attempts: Attempt[] }) {
  return (
    <Box component="table" sx={unseen}>
      <caption>
        Height strip in text. {answer.floor.label} {answer.floor.shown}, block top {answer.block_top.shown}.
      </caption>
      <thead>
        <tr>
          <th>Figure</th>
          <th>Start</th>
          <th>Likely loss</th>
          <th>Lowest 19 times in 20</th>
          <th>Lowest start</th>
          <th>My controls at</th>
          <th>Flown</th>
        </tr>
      </thead>
      <tbody>
        {answer.figures.map((f) => (
          <tr key={f.id}>
            <td>
              {numberOf(answer, f.id)} {f.title}
            </td>
            <td>{f.start.shown}</td>
            <td>{f.likely.shown}</td>
            <td>{f.lowest_point.shown}</td>
            <td>{f.lowest_start.shown}</td>
            <td>{f.take_over.shown}</td>
            <td>
              {attempts
                .filter((a) => a.planned.id === f.id && a.start_ft != null && a.lowest_ft != null)
                .map((a) => `${a.start_ft} to ${a.lowest_ft} ft`)
                .join(", ")}
            </td>
          </tr>
        ))}
      </tbody>
    </Box>
  );
}
