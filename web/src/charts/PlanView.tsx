import { Box } from "@mui/material";
import { useId } from "react";
import type { PlaceDocument, PlanAnswer } from "../api/types";
import { useSize } from "../frame/useSize";
import { narrow, tokens, unseen } from "../theme";
import { Labels } from "./Labels";
import { around, placed, type Label } from "./labels";

const R = Math.PI / 180;
/** Never larger than that, however much room there is. */
const LARGEST = 420;

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
  /** Null where it is not given. */ windFrom: number | null;
  windKt: number | null;
  selected?: string | null;
  onSelect?: (id: string) => void;
}) {
  const { frame, size } = useSize<HTMLDivElement>({ width: 290, height: 290 });
  const S = Math.min(LARGEST, size.width);
  const radius = place.radius_nm ?? 3;
  const block = useId();
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
  // Starts that lie in a heap are told apart by their numbers, each with a thread to its place.
  const notches = placed(
    crossings.map((crossing) => {
      const [x, y] = at(crossing.start_nm);
      const words = String(numbers.indexOf(crossing.figure) + 1).padStart(3, "0");
      return { words, x, y: y + 4, anchor: "middle" as const, bold: true, colour: tokens.plan };
    }),
    [],
    { left: 4, top: 4, right: S - 4, bottom: S - 4 },
  ).map(({ box }): [number, number] => [(box.left + box.right) / 2, (box.top + box.bottom) / 2]);
  const wind =
    windKt === null
      ? "wind not given"
      : windFrom === null
        ? `wind ${Math.round(windKt)} kt, no direction`
        : `wind ${String(Math.round(windFrom)).padStart(3, "0")}/${Math.round(windKt)}`;
  const labels: Label[] = [
    {
      words: answer ? wind : "",
      x: 4,
      y: 53,
      bold: true,
      colour: tokens.ink,
    },
    { words: "north up", x: S - 10, y: 18, anchor: "end", colour: tokens.slate },
    { words: `${bar} NM`, x: S - 10, y: S - 21, anchor: "end", colour: tokens.ink },
    {
      words: `${radius} NM`,
      x: c,
      y: c - radius * scale - 4,
      anchor: "middle",
      colour: tokens.slate,
      tries: [[0, 18]],
    },
    ...(place.fields ?? []).map((field): Label => {
      const [x, y] = bearing(field.bearing_deg, field.distance_nm);
      const feet = `${(Math.round(field.length_ft / 100) * 100).toLocaleString("en")} ft`;
      return {
        words: [`${field.name} ${feet}`, field.name],
        x,
        y: y + 18,
        anchor: "middle",
        colour: tokens.fieldInk,
        tries: [
          [0, -28],
          [12, -14, "start"],
          [-12, -14, "end"],
        ],
      };
    }),
  ];
  if (place.line_deg != null && place.line_name) {
    const [x, y] = bearing(south(place.line_deg), radius * 0.7);
    const words = `${place.line_name} ${String(Math.round(place.line_deg)).padStart(3, "0")}`;
    labels.push({
      words: [words, place.line_name],
      x: x + 10,
      y,
      colour: tokens.slate,
      tries: [[-20, 0, "end"]],
    });
  }
  const marks = [
    ...notches.map(([x, y]) => around(x, y, 10)),
    ...(place.fields ?? []).map((f) => around(...bearing(f.bearing_deg, f.distance_nm), 7)),
    ...(answer ? [around(20, 22, 17)] : []),
  ];
  return (
    <Box ref={frame} sx={{ minWidth: 0, position: "relative" }}>
      <svg
        width={S}
        height={S}
        style={{ ...narrow, fontSize: 12, display: "block", margin: "0 auto" }}
        role="group"
        aria-label={`${place.name} from above: radius ${radius} NM, ${wind}`}
      >
        <clipPath id={block}>
          <circle cx={c} cy={c} r={radius * scale} />
        </clipPath>
        <circle cx={c} cy={c} r={radius * scale} fill={tokens.sky} />
        {place.sea_deg != null && (
          <rect
            clipPath={`url(#${block})`}
            x={c - S}
            y={c - (place.sea_width_nm ?? radius) * scale}
            width={2 * S}
            height={(place.sea_width_nm ?? radius) * scale}
            fill={tokens.air}
            transform={`rotate(${place.sea_deg} ${c} ${c})`}
          />
        )}
        <circle cx={c} cy={c} r={radius * scale} fill="none" stroke={tokens.ink} strokeWidth="1.6" />
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
            </g>
          );
        })}
        {crossings.map((crossing, i) => {
          const [x1, y1] = at(crossing.start_nm),
            [x2, y2] = at(crossing.end_nm),
            before = crossings[i - 1];
          const [x0, y0] = before ? at(before.end_nm) : [x1, y1];
          const on = crossing.figure === selected,
            n = numbers.indexOf(crossing.figure) + 1,
            [nx, ny] = notches[i] ?? [x1, y1];
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
              <path d={`M${x1} ${y1}L${nx} ${ny}`} stroke={tokens.plan} strokeWidth="1" />
              <circle cx={nx} cy={ny} r="9" fill={on ? tokens.plan : tokens.sheet} stroke={tokens.plan} />
              <text
                x={nx}
                y={ny + 4.3}
                textAnchor="middle"
                fontWeight="700"
                fontSize="12"
                fill={on ? tokens.sheet : tokens.plan}
              >
                {n}
              </text>
            </g>
          );
        })}
        {answer && windFrom !== null && (
          <g transform={`translate(20 22) rotate(${windFrom})`}>
            <path d="M0 -15V12M-5 6L0 14L5 6" fill="none" stroke={tokens.ink} strokeWidth="2.2" />
          </g>
        )}
        <path d={`M${S - 10 - bar * scale} ${S - 12}v-5h${bar * scale}v5`} fill="none" stroke={tokens.ink} />
        <Labels labels={labels} taken={marks} room={{ left: 2, top: 2, right: S - 2, bottom: S - 2 }} />
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
