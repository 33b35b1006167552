import { Box } from "@mui/material";
import type { Differs } from "../api/types";
import { tokens } from "../theme";

const styles = {
  list: { m: 0, pl: 2.2, fontSize: 14 },
  was: { color: tokens.slate, textDecoration: "line-through" },
} as const;

/** What differs between two versions of a course. */
export function DiffersList({ differs }: { differs: Differs[] }) {
  return (
    <Box component="ul" sx={styles.list}>
      {differs.map((d) => (
        <li key={d.what + d.kind}>
          {d.kind === "changed" ? (
            <>
              {d.what}:{" "}
              <Box component="span" sx={styles.was}>
                {d.before}
              </Box>{" "}
              → <b>{d.after}</b>
            </>
          ) : (
            <>
              <b>{d.kind}</b>: {d.what}
            </>
          )}
        </li>
      ))}
    </Box>
  );
}
