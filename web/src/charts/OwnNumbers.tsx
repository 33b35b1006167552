import { Box, Typography } from "@mui/material";
import type { FigureAnswer } from "../api/types";
import { narrow, tokens } from "../theme";
import { WhyNumber } from "../why/WhyNumber";

const styles = {
  table: { ...narrow, width: "100%", fontSize: 13.5, borderCollapse: "collapse" },
  number: { textAlign: "right", padding: "1px 0 1px 8px" },
  words: { fontSize: 12.5, color: tokens.slate, lineHeight: 1.25, mt: 0.3 },
} as const;

type Own = NonNullable<FigureAnswer["own"]>;

/** What this student loses beside what the population does; whose the plan goes by is bold. */
export function OwnNumbers({ figure, own }: { figure: FigureAnswer; own: Own }) {
  const rows = [
    {
      who: "Population",
      rules: own.rules === "population",
      numbers: [figure.likely, own.population_worst, own.population_start],
    },
    {
      who: "This student",
      rules: own.rules === "own",
      numbers: [own.likely, own.worst, own.lowest_start],
    },
  ];
  return (
    <Box sx={{ mb: 0.5 }}>
      <table style={styles.table} aria-label={`${figure.title}: this student beside the population`}>
        <thead>
          <tr style={{ color: tokens.slate, fontSize: 12.5 }}>
            <td />
            {["likely", "19 in 20", "lowest start"].map((words) => (
              <th key={words} scope="col" style={{ ...styles.number, fontWeight: 400 }}>
                {words}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ who, rules, numbers }) => (
            <tr key={who} style={{ fontWeight: rules ? 720 : 400 }}>
              <th scope="row" style={{ textAlign: "left", fontWeight: "inherit" }}>
                {who}
              </th>
              {numbers.map((answer) => (
                <td key={answer.label} style={styles.number}>
                  <WhyNumber answer={answer} text={answer.number} sx={{ fontWeight: "inherit" }} />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <Typography sx={styles.words}>{own.words}.</Typography>
    </Box>
  );
}
