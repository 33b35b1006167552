import { Box } from "@mui/material";
import type { PlaceDocument, PlanAnswer } from "../api/types";
import { narrow, tokens, unseen } from "../theme";

const S = 290,
  R = Math.PI / 180;

/** The place from above, north up, to scale: block, line, fields, wind, and where the wind takes the sequence. */
export function PlanView({
  place,
  answer,
  windFrom,
  windKt,
  selected,
  onSelect,
}: {
  place: PlaceDocument;
  answer: PlanAnswer | null;
  windFrom: number;
  windKt: number;
  selected?: string | null;
  onSelect?: (id: string) => void;
}) {
  const radius = place.radius_nm ?? 3;
  const crossings = answer?.drift.crossings ?? [];
  const reach =
    Math.max(
      radius,
      ...(place.fields ?? []).map((f) => f.distance_nm),
      ...crossings.map((c) => c.from_middle_nm),
    ) * 1.12;
  const scale = (S / 2 - 16) / reach,
    c = S / 2;
  const at = ([e = 0, n = 0]: readonly number[]): [number, number] => [c + e * scale, c - n * scale];
  const bearing = (deg: number, nm: number) => at([Math.sin(deg * R) * nm, Math.cos(deg * R) * nm]);
  const numbers = Object.keys(answer?.titles ?? {});
  const bar = radius > 4 ? 2 : 1;
  return (
    <Box>
      <svg
        viewBox={`0 0 ${S} ${S}`}
        width="100%"
        style={{ ...narrow, fontSize: 12, display: "block", maxHeight: 420 }}
        role="group"
        aria-label={`${place.name} from above: radius ${radius} NM, wind from ${Math.round(windFrom)} degrees ${Math.round(windKt)} kt`}
      >
        <circle cx={c} cy={c} r={radius * scale} fill={tokens.sky} stroke={tokens.ink} strokeWidth="1.6" />
        <text x={c} y={c - radius * scale - 4} textAnchor="middle" fill={tokens.slate}>
          {radius} NM
        </text>
        {place.line_deg != null &&
          (() => {
            const [x1, y1] = bearing(place.line_deg, radius * 0.98),
              [x2, y2] = bearing(place.line_deg + 180, radius * 0.98);
            return (
              <g>
                <path
                  d={`M${x1} ${y1}L${x2} ${y2}`}
                  stroke={tokens.earth}
                  strokeWidth="7"
                  strokeLinecap="round"
                />
                <text
                  transform={`translate(${bearing(south(place.line_deg), radius * 0.7).join(" ")}) rotate(${upright(place.line_deg)})`}
                  y={-7}
                  textAnchor="middle"
                  fill={tokens.slate}
                >
                  {place.line_name} {String(Math.round(place.line_deg)).padStart(3, "0")}
                </text>
              </g>
            );
          })()}
        {(place.fields ?? []).map((field) => {
          const [x, y] = bearing(field.bearing_deg, field.distance_nm),
            long = Math.max(9, (field.length_ft / 6076) * scale);
          return (
            <g key={field.name}>
              <rect
                x={x - long / 2}
                y={y - 3.5}
                width={long}
                height={7}
                fill={tokens.field}
                stroke={tokens.fieldInk}
                transform={`rotate(${field.heading_deg - 90} ${x} ${y})`}
              />
              <text x={x} y={y + 17} textAnchor="middle" fill={tokens.fieldInk}>
                {field.name} {Math.round(field.length_ft / 100) * 100} ft
              </text>
            </g>
          );
        })}
        {crossings.map((crossing, i) => {
          const [x1, y1] = at(crossing.start_nm),
            [x2, y2] = at(crossing.end_nm),
            before = crossings[i - 1];
          const [x0, y0] = before ? at(before.end_nm) : [x1, y1];
          const on = crossing.figure === selected,
            n = numbers.indexOf(crossing.figure) + 1;
          return (
            <g
              key={crossing.figure}
              onClick={onSelect && (() => onSelect(crossing.figure))}
              style={{ cursor: onSelect ? "pointer" : undefined }}
            >
              <path
                d={`M${x0} ${y0}L${x1} ${y1}`}
                stroke={tokens.plan}
                strokeWidth="1.2"
                strokeDasharray="3 3"
              />
              <path
                d={`M${x1} ${y1}L${x2} ${y2}`}
                stroke={crossing.outside ? tokens.stop : tokens.plan}
                strokeWidth={on ? 6 : 4}
                strokeLinecap="round"
              />
              <circle cx={x1} cy={y1} r="8" fill={on ? tokens.plan : tokens.sheet} stroke={tokens.plan} />
              <text
                x={x1}
                y={y1 + 4}
                textAnchor="middle"
                fontWeight="700"
                fontSize="11"
                fill={on ? "#fff" : tokens.plan}
              >
                {n}
              </text>
            </g>
          );
        })}
        {answer && (
          <>
            <g transform={`translate(20 22) rotate(${windFrom})`}>
              <path d="M0 -15V12M-5 6L0 14L5 6" fill="none" stroke={tokens.ink} strokeWidth="2.2" />
            </g>
            <text x={4} y={53} fill={tokens.ink} fontWeight="660">
              wind {String(Math.round(windFrom)).padStart(3, "0")}/{Math.round(windKt)}
            </text>
          </>
        )}
        <text x={S - 10} y={18} textAnchor="end" fill={tokens.slate}>
          north up
        </text>
        <path d={`M${S - 10 - bar * scale} ${S - 12}v-5h${bar * scale}v5`} fill="none" stroke={tokens.ink} />
        <text x={S - 10} y={S - 21} textAnchor="end" fill={tokens.ink}>
          {bar} NM
        </text>
      </svg>
      <Box component="ul" sx={unseen}>
        {crossings.map((x) => (
          <li key={x.figure}>
            {numbers.indexOf(x.figure) + 1} {answer?.titles[x.figure]}: ends {x.from_middle_nm.toFixed(1)} NM
            from the middle{x.outside ? ", outside" : ""}
          </li>
        ))}
      </Box>
    </Box>
  );
}

/** The end of a line that lies to the south, where its name has room. */
function south(deg: number): number {
  return Math.cos(deg * R) > 0 ? deg + 180 : deg;
}

/** The turn of words that run along a line and are never upside down. */
function upright(deg: number): number {
  const turn = ((((deg - 90) % 180) + 270) % 180) - 90;
  return turn;
}
