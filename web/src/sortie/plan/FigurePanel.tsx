import { Box, Typography } from "@mui/material";
import { memo } from "react";
import type { CloserLook, Catalogue, FigureAnswer, PlanAnswer, PlannedFigure } from "../../api/types";
import { GateMap } from "../../charts/GateMap";
import { HeightAccount, planShade } from "../../charts/HeightAccount";
import { OwnNumbers } from "../../charts/OwnNumbers";
import { SpeedAndG } from "../../charts/SpeedAndG";
import { useStable } from "../../frame/useStable";
import { tokens } from "../../theme";
import { WhyNumber } from "../../why/WhyNumber";
import { editFigure } from "../edits";
import type { SortieWork } from "../useSortie";
import { FigureSettings } from "./FigureSettings";

const styles = {
  columns: {
    display: "grid",
    gridTemplateColumns: "minmax(0, 1fr)",
    "@container (min-width: 430px)": { gridTemplateColumns: "minmax(0, 1fr) minmax(0, 1fr)" },
    "@container (min-width: 640px)": {
      gridTemplateColumns: "minmax(0, 1.05fr) minmax(0, 1.1fr) minmax(0, 1fr)",
    },
    gap: 2,
  },
} as const;

interface Props {
  planned: PlannedFigure;
  figure: FigureAnswer | null;
  look: CloserLook | null;
  answer: PlanAnswer;
  catalogue: Catalogue;
  change: SortieWork["change"];
  editable: boolean;
}

/** Settings, what they cost, and the entry that makes it: one figure on one sheet. */
export const FigurePanel = memo(function FigurePanel({
  planned,
  figure,
  look,
  answer,
  catalogue,
  change,
  editable,
}: Props) {
  const unit = answer.envelope.speed_unit,
    usual = catalogue.figures
      .find((f) => f.key === planned.key)
      ?.parameters.find((p) => p.name === "pull_g")?.usual;
  const onPoint = useStable((speed: number, pull: number, gesture: string) =>
    change(
      editFigure(planned.id, { entry_ias: speed, parameters: { ...planned.parameters, pull_g: pull } }),
      gesture,
    ),
  );
  return (
    <Box sx={styles.columns}>
      <FigureSettings
        planned={planned}
        figure={figure}
        catalogue={catalogue}
        change={change}
        editable={editable}
        unit={unit}
      />
      {figure ? (
        <Account figure={figure} />
      ) : (
        <Typography sx={{ color: tokens.stop }}>
          This aircraft's card cannot say what this figure costs.
        </Typography>
      )}
      {figure &&
        (look?.gate_map ? (
          <Box>
            <Typography variant="h2" component="h3">
              Entry speed by pull{" "}
              {look.gate.lowest && look.gate.highest && (
                <Box component="span" sx={{ fontWeight: 450 }}>
                  fine <WhyNumber answer={look.gate.lowest} text={look.gate.lowest.number} /> to{" "}
                  <WhyNumber answer={look.gate.highest} />
                </Box>
              )}
            </Typography>
            <GateMap
              map={look.gate_map}
              unit={unit}
              speed={planned.entry_ias ?? figure.entry.value}
              pull={planned.parameters?.pull_g ?? usual ?? look.gate_map.here_pull}
              onPoint={editable ? onPoint : undefined}
            />
            {look.gate.would_help && (
              <Typography sx={{ fontSize: 13, color: tokens.stop }}>{look.gate.would_help}</Typography>
            )}
          </Box>
        ) : (
          <Box>
            <Typography variant="h2" component="h3">
              Speed and g
            </Typography>
            <SpeedAndG figure={figure} answer={answer} />
          </Box>
        ))}
    </Box>
  );
});

const Account = memo(function Account({ figure }: { figure: FigureAnswer }) {
  const bars = figure.account.map((line, i) => ({ ...line, colour: planShade(i, figure.account.length) }));
  const totals: [string, typeof figure.likely][] = figure.own
    ? []
    : [
        ["Likely loss", figure.likely],
        ["19 times in 20 within", figure.worst],
        ["Lowest start", figure.lowest_start],
      ];
  if (figure.turns_allowed) totals.push(["Turns allowed from here", figure.turns_allowed]);
  if (figure.closes_with) totals.push([figure.closes_with.label, figure.closes_with]);
  if (figure.joined.climb.value > 0) totals.push(["Climb before it", figure.joined.climb]);
  return (
    <Box>
      <Typography variant="h2" component="h3" sx={{ mb: 0.5 }}>
        Where the height goes
      </Typography>
      <HeightAccount
        bars={bars}
        totals={totals}
        sums={figure.own && <OwnNumbers figure={figure} own={figure.own} />}
      />
    </Box>
  );
});
