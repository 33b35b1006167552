import { Box, LinearProgress, Paper, Typography } from "@mui/material";
import type { Attempt, LossAccount, Technique } from "../../api/types";
import { HeightAccount } from "../../charts/HeightAccount";
import { WentAccount } from "../../charts/WentAccount";
import { narrow, tokens, unseen } from "../../theme";

const styles = {
  account: {
    border: `1px solid ${tokens.hairline}`,
    p: 1.2,
    minHeight: 150,
    minWidth: 0,
    overflow: "auto",
    gridColumn: "1 / -1",
  },
  beside: { gridColumn: { lg: 2 }, gridRow: { lg: "4 / 6" } },
  numbers: {
    ...narrow,
    width: "100%",
    fontSize: 13,
    borderCollapse: "collapse",
    "& th": { textAlign: "left", fontWeight: 400 },
    "& thead th, & td": { textAlign: "right", whiteSpace: "nowrap", pl: 1 },
    "& thead": { color: tokens.slate },
  },
  near: { fontSize: 12.5, color: tokens.slate, mt: 0.6 },
} as const;

interface Props {
  attempt: Attempt | null;
  title: string;
  /** Against the brief. */ briefed: LossAccount | undefined;
  technique: Technique | null | undefined;
  /** It stands beside the trace. */ beside: boolean;
  /** For it to be split. */ waiting: boolean;
}

/** Against the best possible where it can be split, else against the brief. */
export function WhereItWent({ attempt, title, briefed, technique, beside, waiting }: Props) {
  return (
    <Paper sx={beside ? { ...styles.account, ...styles.beside } : styles.account}>
      <Typography variant="h2" component="h3" sx={{ mb: 0.5 }}>
        Where the height went{attempt ? `: ${title}` : ""}
      </Typography>
      {technique?.account ? (
        <WentAccount account={technique.account} />
      ) : waiting ? (
        <LinearProgress aria-label="Where the height went" />
      ) : (
        attempt && <AgainstTheBrief account={briefed} attempt={attempt} />
      )}
      {technique && <Typography sx={styles.near}>{technique.says}</Typography>}
      {technique && technique.numbers.length > 0 && <Numbers numbers={technique.numbers} />}
      {technique?.account && briefed && (
        <Typography sx={styles.near}>
          Briefed {briefed.planned.shown} from the height flown; it took {briefed.flown.shown}.
        </Typography>
      )}
    </Paper>
  );
}

/** What the recording tells of the pilot, beside the usual student. */
function Numbers({ numbers }: { numbers: Technique["numbers"] }) {
  return (
    <>
      <Typography variant="h2" component="h4" sx={{ mt: 1.2, mb: 0.3 }}>
        By the numbers
      </Typography>
      <Box component="table" sx={styles.numbers}>
        <thead>
          <tr>
            <th scope="col">
              <Box component="span" sx={unseen}>
                Number
              </Box>
            </th>
            <th scope="col">flown</th>
            <th scope="col">usual</th>
          </tr>
        </thead>
        <tbody>
          {numbers.map((one) => (
            <tr key={one.name}>
              <th scope="row">{one.label}</th>
              <td>
                <b>{one.value}</b> ±{one.doubt}
              </td>
              <td>{one.usual}</td>
            </tr>
          ))}
        </tbody>
      </Box>
    </>
  );
}

function AgainstTheBrief({ account, attempt }: { account: LossAccount | undefined; attempt: Attempt }) {
  if (!account)
    return (
      <Typography sx={{ color: tokens.slate }}>
        {attempt.skipped ? "Skipped." : "Note its start and lowest height, and the account appears here."}
      </Typography>
    );
  const bars = [
    {
      part: "As briefed",
      height_ft: account.planned.value,
      shown: account.planned.shown,
      colour: tokens.plan,
    },
    ...account.lines.map((line) => ({ ...line, colour: line.height_ft > 0 ? tokens.mind : tokens.best })),
  ];
  return (
    <HeightAccount
      bars={bars}
      totals={[
        ["Flown", account.flown],
        ["As briefed, from the height flown", account.planned],
      ]}
    />
  );
}
