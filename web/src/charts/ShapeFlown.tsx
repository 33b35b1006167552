import type { LineFlown, Shape } from "../api/types";
import { narrow, tokens } from "../theme";

const W = 280,
  H = 84;
const QUARTERS = ["in", "side", "back", "side", "out"];

interface Props {
  shape: Shape;
  /** Of the figure as planned. */ meant: Shape | null;
}

/** What shape a roll, a loop or a line was given, beside the one that is meant: where the nose stood after each quarter
 * of a roll, the arcs of a loop, how steep the lines. Nothing for what has none. */
export function ShapeFlown({ shape, meant }: Props) {
  const loop = shape.radii_ft.some((r) => r !== null);
  const said = words(shape, meant);
  if (!loop && shape.nose_deg.length === 0 && shape.lines.length === 0) return null;
  return (
    <div style={{ display: "grid", gap: 4 }}>
      {shape.nose_deg.length > 0 && <NoseByQuarters flown={shape.nose_deg} meant={meant?.nose_deg ?? []} />}
      {loop && <Arcs flown={shape.radii_ft} meant={meant?.radii_ft ?? []} />}
      {said.map((line) => (
        <span key={line} style={{ fontSize: 12.5, color: tokens.slate }}>
          {line}
        </span>
      ))}
    </div>
  );
}

const degrees = (v: number) => `${Math.round(v) + 0}°`.replace("-", "−");

function NoseByQuarters({ flown, meant }: { flown: readonly number[]; meant: readonly number[] }) {
  const all = [...flown, ...meant, 0];
  const [least, most] = [Math.min(...all) - 12, Math.max(...all) + 12];
  const x = (i: number) => 22 + (i / (QUARTERS.length - 1)) * (W - 44);
  const y = (v: number) => 2 + ((most - v) / (most - least)) * (H - 18);
  const path = (values: readonly number[]) =>
    `M${values.map((v, i) => `${x(i)},${y(v).toFixed(1)}`).join("L")}`;
  const label = QUARTERS.map((words, i) => `${words} ${degrees(flown[i] ?? 0)}`).join(", ");
  return (
    <svg viewBox={`0 0 ${W} ${H}`} width="100%" role="img" aria-label={`Nose above the horizon: ${label}`}>
      <line x1="0" x2={W} y1={y(0)} y2={y(0)} stroke={tokens.hairline} strokeWidth="1.5" />
      {meant.length > 0 && (
        <path d={path(meant)} fill="none" stroke={tokens.plan} strokeWidth="1.6" strokeDasharray="5 4" />
      )}
      <path d={path(flown)} fill="none" stroke={tokens.flown} strokeWidth="2" />
      {flown.map((v, i) => (
        <g key={i}>
          <circle cx={x(i)} cy={y(v)} r="2.6" fill={tokens.flown} />
          <text
            x={x(i)}
            y={y(v) + (v < (meant[i] ?? v) ? 13 : -5)}
            textAnchor="middle"
            style={{ ...narrow, fontSize: 12 }}
            fill={tokens.flown}
          >
            {degrees(v)}
          </text>
          <text
            x={x(i)}
            y={H - 2}
            textAnchor="middle"
            style={{ ...narrow, fontSize: 12 }}
            fill={tokens.slate}
          >
            {QUARTERS[i]}
          </text>
        </g>
      ))}
    </svg>
  );
}

type Radii = readonly (number | null)[];

/** The four arcs put to each other, without the lines between them: corners of the path, in feet, y upwards. */
function corners(radii: Radii): [number, number][] {
  const turns: [number, number][] = [
    [1, 1],
    [-1, 1],
    [-1, -1],
    [1, -1],
  ];
  const at: [number, number][] = [[0, 0]];
  radii.forEach((r, i) => {
    const [x, y] = at[at.length - 1] as [number, number];
    const [right, up] = turns[i] as [number, number];
    at.push([x + right * (r ?? 0), y + up * (r ?? 0)]);
  });
  return at;
}

function Arcs({ flown, meant }: { flown: Radii; meant: Radii }) {
  const both = [...corners(flown), ...corners(meant)];
  const [left, right] = [Math.min(...both.map(([x]) => x)), Math.max(...both.map(([x]) => x))];
  const [low, high] = [Math.min(...both.map(([, y]) => y)), Math.max(...both.map(([, y]) => y))];
  const tall = 112;
  const scale = Math.min((tall - 8) / (high - low || 1), (W - 130) / (right - left || 1));
  const path = (radii: Radii) => {
    const at = corners(radii).map(
      ([x, y]) => [4 + (x - left) * scale, tall - 4 - (y - low) * scale] as const,
    );
    return at
      .map(([x, y], i) => {
        const r = (radii[i - 1] ?? 0) * scale;
        return i === 0 ? `M${x},${y}` : r > 0 ? `A${r},${r} 0 0 0 ${x.toFixed(1)},${y.toFixed(1)}` : "";
      })
      .join("");
  };
  const rows = ["up", "over", "down", "round"].flatMap((words, i) => {
    const r = flown[i],
      m = meant[i];
    return r == null ? [] : [{ words, r: feet(r), m: m == null ? "" : feet(m) }];
  });
  const label = rows.map(({ words, r, m }) => `${words} ${r} ft${m && `, as planned ${m}`}`).join("; ");
  return (
    <svg viewBox={`0 0 ${W} ${tall}`} width="100%" role="img" aria-label={`Radius of each quarter: ${label}`}>
      <path d={path(meant)} fill="none" stroke={tokens.plan} strokeWidth="1.6" strokeDasharray="5 4" />
      <path d={path(flown)} fill="none" stroke={tokens.flown} strokeWidth="2" />
      <g style={{ ...narrow, fontSize: 12 }} textAnchor="end">
        <text x={W - 46} y="14" fill={tokens.flown}>
          radius, ft
        </text>
        <text x={W - 2} y="14" fill={tokens.plan}>
          planned
        </text>
        {rows.map(({ words, r, m }, i) => (
          <g key={words} transform={`translate(0 ${32 + i * 18})`}>
            <text x={W - 82} fill={tokens.slate}>
              {words}
            </text>
            <text x={W - 46} fill={tokens.flown}>
              {r}
            </text>
            <text x={W - 2} fill={tokens.plan}>
              {m}
            </text>
          </g>
        ))}
      </g>
    </svg>
  );
}

/** As radii are read. */
const feet = (v: number) => (Math.round(v / 10) * 10).toLocaleString("en");

function words(shape: Shape, meant: Shape | null): string[] {
  const found = shape.lines.map((line, i) => {
    const as = meant?.lines[i];
    return `${steep(line)}${as ? `; as planned ${steep(as).replace(/^Line (up|down) /, "")}` : ""}.`;
  });
  if (shape.roundness !== null)
    found.push(
      `Tightest quarter ${percent(shape.roundness)} of the widest${meant?.roundness != null ? `; as planned ${percent(meant.roundness)}` : ""}.`,
    );
  if (shape.top_off_deg !== null && Math.abs(shape.top_off_deg) >= 1)
    found.push(`Heading at the top: ${aside(shape.top_off_deg)} of the way in.`);
  return found;
}

const percent = (share: number) => `${Math.round(share * 100)}%`;
const aside = (v: number) => `${Math.round(Math.abs(v))}° ${v < 0 ? "left" : "right"}`;

function steep({ angle_deg, past_vertical, seconds }: LineFlown): string {
  const off = Math.abs(angle_deg);
  const angle = Math.round(off > 90 ? 180 - off : off);
  return `Line ${angle_deg < 0 ? "down" : "up"} ${angle}°${past_vertical ? " past the vertical" : ""} for ${seconds.toFixed(1)} s`;
}
