import type { Working } from "../api/types";
import { Labels } from "../charts/Labels";
import { useSize } from "../frame/useSize";
import { narrow, tokens } from "../theme";

const HIGH = 112,
  BASE = 78,
  TOP = 6;

type Hill = NonNullable<Working["hill"]>;

/** How many pilots came out where, with the usual one and the limit in it. */
export function HillPicture({ answer, hill }: { answer: Working; hill: Hill }) {
  const { least, step, counts, usual, beyond } = hill;
  const { frame, size } = useSize<HTMLElement>({ width: 258, height: HIGH });
  const wide = size.width;
  const most = Math.max(least + step * counts.length, answer.value, usual);
  const from = Math.min(least, usual);
  const x = (value: number) => 4 + ((value - from) / Math.max(most - from, 1e-9)) * (wide - 8);
  const highest = Math.max(1, ...counts);
  const y = (count: number) => BASE - (count / highest) * (BASE - TOP);
  const all = counts.reduce((sum, n) => sum + n, 0) + beyond;
  const said = `${all} pilots: the usual one ${whole(usual)}, ${answer.label.toLowerCase()} ${answer.shown}`;
  return (
    <figure ref={frame} style={{ margin: 0 }}>
      <svg width={wide} height={HIGH} role="img" aria-label={said} style={{ ...narrow, display: "block" }}>
        {counts.map((n, i) => {
          const [left, right] = [x(least + i * step), x(least + (i + 1) * step)];
          const within = least + (i + 0.5) * step <= answer.value;
          return (
            n > 0 && (
              <rect
                key={i}
                x={left + 0.5}
                y={y(n)}
                width={Math.max(1, right - left - 1)}
                height={BASE - y(n)}
                fill={within ? tokens.plan : tokens.stop}
                opacity={within ? 0.45 : 0.8}
              />
            )
          );
        })}
        <path d={`M4 ${BASE}H${wide - 4}`} stroke={tokens.ink} strokeWidth="1" />
        <path d={`M${x(usual)} ${TOP}V${BASE + 5}`} stroke={tokens.plan} strokeWidth="2.5" />
        <path d={`M${x(answer.value)} ${TOP}V${BASE + 5}`} stroke={tokens.stop} strokeWidth="2.5" />
        <Labels
          labels={[
            {
              words: `usual ${whole(usual)}`,
              x: x(usual),
              y: BASE + 16,
              anchor: x(usual) < 50 ? "start" : "middle",
              colour: tokens.plan,
              bold: true,
            },
            {
              words: `limit ${answer.shown}`,
              x: x(answer.value),
              y: BASE + 16,
              anchor: x(answer.value) > wide - 50 ? "end" : "middle",
              colour: tokens.stop,
              bold: true,
            },
          ]}
          room={{ left: 0, top: 0, right: wide, bottom: HIGH }}
        />
      </svg>
      <figcaption style={{ fontSize: 13, color: tokens.slate }}>
        {all} pilots of the population flew it{beyond > 0 ? `; ${beyond} never got out` : ""}. Red lies beyond
        the limit.
      </figcaption>
    </figure>
  );
}

function whole(feet: number): string {
  return `${(Math.ceil(feet / 10 - 1e-6) * 10).toLocaleString("en")} ft`;
}
