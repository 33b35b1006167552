import type { Trace } from "../api/types";
import { narrow, tokens } from "../theme";

const W = 400,
  H = 22;

/** Speed, and under it g, over the seconds of a recorded figure: as wide as what stands under them. */
export function SpeedAndGFlown({ trace, unit }: { trace: Trace; unit: string }) {
  const bands = [
    { words: `${unit}`, values: trace.ias, colour: tokens.plan, digits: 0 },
    { words: "g", values: trace.g, colour: tokens.flown, digits: 1 },
  ].filter(({ values }) => values.length > 1);
  const [first = 0] = trace.seconds,
    last = trace.seconds.at(-1) ?? 1;
  return bands.map(({ words, values, colour, digits }) => {
    const [least, most] = [Math.min(...values), Math.max(...values)];
    const y = (v: number) => H - 2 - ((v - least) / Math.max(1e-6, most - least)) * (H - 4);
    const d = values.map(
      (v, i) => `${(((trace.seconds[i] ?? 0) - first) / (last - first)) * W},${y(v).toFixed(1)}`,
    );
    const said = (v: number) => (Number(v.toFixed(digits)) + 0).toFixed(digits).replace("-", "−");
    return (
      <div key={words} style={{ display: "contents" }}>
        <svg
          viewBox={`0 0 ${W} ${H}`}
          preserveAspectRatio="none"
          width="100%"
          height={H}
          style={{ display: "block", background: tokens.sky }}
          role="img"
          aria-label={`${words === "g" ? "g" : "Speed"} over the figure: ${said(least)} to ${said(most)} ${words}`}
        >
          <path
            d={`M${d.join("L")}`}
            fill="none"
            stroke={colour}
            strokeWidth="1.8"
            vectorEffect="non-scaling-stroke"
          />
        </svg>
        <span style={{ ...narrow, fontSize: 12, color: colour, whiteSpace: "nowrap" }}>
          {said(least)} to {said(most)} {words}
        </span>
      </div>
    );
  });
}
