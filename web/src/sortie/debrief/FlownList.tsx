import { Box, ButtonBase } from "@mui/material";
import type { Attempt } from "../../api/types";
import { narrow, tokens } from "../../theme";
import { heightLost } from "../Went";
import { became } from "./Became";

const styles = {
  list: { listStyle: "none", p: 0, m: 0, display: "grid", gap: 0.75 },
  name: { fontWeight: 660, fontSize: 14, lineHeight: 1.2 },
  lost: { ...narrow, fontWeight: 680, fontSize: 14 },
  by: {
    gridColumn: "2 / -1",
    fontSize: 12.5,
    color: tokens.slate,
    display: "flex",
    justifyContent: "space-between",
  },
} as const;

/** What was flown, in its order, with the height each cost; the chosen one is looked at. */
export function FlownList({
  attempts,
  chosen,
  titleOf,
  onChoose,
}: {
  attempts: readonly Attempt[];
  chosen: string | undefined;
  titleOf: (a: Attempt) => string;
  onChoose: (a: Attempt) => void;
}) {
  return (
    <Box component="ol" sx={styles.list}>
      {attempts.map((a, i) => (
        <Box component="li" key={a.id}>
          <ButtonBase
            data-print
            aria-current={a.id === chosen || undefined}
            onClick={() => onChoose(a)}
            sx={{
              width: "100%",
              textAlign: "left",
              bgcolor: tokens.sheet,
              border: `${a.id === chosen ? 2 : 1}px solid ${a.id === chosen ? tokens.plan : tokens.hairline}`,
              borderRadius: 1,
              px: 1,
              py: 0.7,
              display: "grid",
              gridTemplateColumns: "18px 1fr auto",
              columnGap: 0.75,
            }}
          >
            <Box component="span" sx={{ color: tokens.plan, fontWeight: 720 }}>
              {i + 1}
            </Box>
            <Box component="span" sx={styles.name}>
              {titleOf(a)}
            </Box>
            <Box component="span" sx={styles.lost}>
              {heightLost(a)}
            </Box>
            <Box component="span" sx={styles.by}>
              <span>{a.flown_by}</span>
              <span>{became(a) || (a.grade ?? "not graded")}</span>
            </Box>
          </ButtonBase>
        </Box>
      ))}
    </Box>
  );
}
