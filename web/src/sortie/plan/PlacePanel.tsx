import { Box, MenuItem, TextField, Typography } from "@mui/material";
import { memo } from "react";
import { usePlaces } from "../../api/questions";
import { PlanView } from "../../charts/PlanView";
import { narrow, tokens } from "../../theme";
import { WhyNumber } from "../../why/WhyNumber";
import { editPlan } from "../edits";
import type { SortieWork } from "../useSortie";
import { useBounds } from "../../forms/bounds";
import { NumberField } from "../../forms/NumberField";

const styles = {
  halves: {
    display: "grid",
    gridTemplateColumns: "minmax(0, 1fr)",

    "@container (min-width: 520px)": { gridTemplateColumns: "minmax(0, 1fr) 265px" },
    gap: 2,
  },
  entries: {
    display: "grid",
    gap: 1.2,
    alignContent: "start",
    gridTemplateColumns: "repeat(auto-fill, minmax(min(100%, 200px), 1fr))",
  },
  place: {
    gridColumn: "1 / -1",
    m: 0,
    display: "grid",
    gridTemplateColumns: "max-content 1fr",
    columnGap: 1.5,
    rowGap: 0.3,
    fontSize: 14,
    "& dt": { color: tokens.slate },
    "& dd": { m: 0 },
  },
  notes: { gridColumn: "1 / -1", fontSize: 13.5, color: tokens.slate },
} as const;

/** The block, from below and from above, and where the wind takes the sequence in it. */
export const PlacePanel = memo(function PlacePanel({
  work,
  editable,
  selected,
  onSelect,
}: {
  work: SortieWork;
  editable: boolean;
  selected: string | null;
  onSelect: (id: string) => void;
}) {
  const { draft, change, answer, sortie } = work;
  const places = usePlaces();
  const bounds = useBounds("plan");
  const place =
    draft.place_id === sortie.place_id
      ? sortie.block
      : places.data?.find((p) => p.id === draft.place_id)?.place;
  const { day } = draft.plan,
    drift = answer.drift;
  return (
    <Box sx={styles.halves}>
      <Box sx={styles.entries}>
        <TextField
          select
          label="Place"
          value={places.data ? draft.place_id : ""}
          disabled={!editable}
          onChange={(e) => change((d) => ({ ...d, place_id: Number(e.target.value) }))}
        >
          {(places.data ?? []).map((p) => (
            <MenuItem key={p.id} value={p.id}>
              {p.place.name}
            </MenuItem>
          ))}
        </TextField>
        <NumberField
          label="My own floor"
          unit="ft QNH"
          {...bounds("own_floor_ft")}
          value={draft.plan.own_floor_ft ?? null}
          optional
          step={100}
          placeholder="none"
          disabled={!editable}
          onValue={(v) =>
            change(
              editPlan((plan) => ({ ...plan, own_floor_ft: v })),
              "type own floor",
            )
          }
        />
        <Box component="dl" sx={styles.place}>
          <dt>Top</dt>
          <dd>
            {answer.block_top.label} <WhyNumber answer={answer.block_top} />
          </dd>
          <dt>Floor</dt>
          <dd>
            <WhyNumber answer={answer.floor} />, {answer.floor.label.replace("Floor: ", "")}
          </dd>
          <dt>Ground</dt>
          <dd>
            <WhyNumber answer={answer.ground} />
            {answer.leave && (
              <>
                , leave the aircraft at <WhyNumber answer={answer.leave} />
              </>
            )}
          </dd>
          {place?.line_deg != null && (
            <>
              <dt>Line</dt>
              <dd style={narrow}>
                {place.line_name}, {String(Math.round(place.line_deg)).padStart(3, "0")}
              </dd>
            </>
          )}
          <dt>Work along</dt>
          <dd>
            <WhyNumber main answer={drift.work_along} sx={{ fontSize: 18 }} />, begin{" "}
            <WhyNumber answer={drift.begin_upwind} /> upwind of the middle
          </dd>
          <dt>Drift</dt>
          <dd>
            <WhyNumber answer={drift.total} /> in all; the figures themselves gain{" "}
            <WhyNumber answer={drift.gained} />
          </dd>
          {drift.first_outside && (
            <>
              <dt>Outside</dt>
              <dd style={{ color: tokens.stop }}>
                {answer.titles[drift.first_outside]} ends outside: go back upwind before it.
              </dd>
            </>
          )}
        </Box>
        {place?.notes && <Typography sx={styles.notes}>{place.notes}</Typography>}
      </Box>
      {place && (
        <PlanView
          place={place}
          answer={answer}
          windFrom={day.wind_from_deg ?? null}
          windKt={day.wind_kt ?? null}
          selected={selected}
          onSelect={onSelect}
        />
      )}
    </Box>
  );
});
