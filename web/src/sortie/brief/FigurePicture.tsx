import { Box } from "@mui/material";
import { scaleLinear } from "d3-scale";
import type { FigureAnswer, PlanAnswer } from "../../api/types";
import { narrow, tokens } from "../../theme";

const W = 420, H = 210, L = 46, R = 128, T = 12, B = 24;

/** One figure by itself: seconds across, height up, with the heights that decide. */
export function FigurePicture({ figure, answer }: { figure: FigureAnswer; answer: PlanAnswer }) {
  const start = figure.start.value;
  const seconds = figure.profile[figure.profile.length - 1]?.[0] ?? 1;
  const x = scaleLinear().domain([0, seconds]).range([L, W - R]);
  const y = scaleLinear().domain([Math.min(answer.floor.value, figure.lowest_point.value) - 60, start + 60]).range([H - B, T]);
  const d = figure.profile.map(([s = 0, ft = 0]) => `${x(s).toFixed(1)},${y(start + ft).toFixed(1)}`).join("L");
  const lines = apart([
    { words: `Start ${figure.start.shown}`, at: y(start), colour: tokens.plan },
    { words: `Likely ${(Math.floor((start - figure.likely.value) / 10) * 10).toLocaleString("en")} ft`, at: y(start - figure.likely.value), colour: tokens.plan },
    { words: `19 in 20 ${figure.lowest_point.shown}`, at: y(figure.lowest_point.value), colour: tokens.slate },
    { words: `My controls ${figure.take_over.shown}`, at: y(figure.take_over.value), colour: tokens.mindInk },
    { words: `Floor ${answer.floor.shown}`, at: y(answer.floor.value), colour: tokens.stop },
  ]);
  return (
    <Box component="svg" viewBox={`0 0 ${W} ${H}`} sx={{ width: "100%", display: "block", ...narrow, fontSize: 12.5, bgcolor: tokens.sky }} role="img" aria-label={`${figure.title}: from ${figure.start.shown}, likely loss ${figure.likely.shown}, 19 times in 20 within ${figure.worst.shown}, in ${Math.round(seconds)} seconds`}>
      <rect x={L} y={y(answer.floor.value)} width={W - R - L} height={Math.max(0, H - B - y(answer.floor.value))} fill={tokens.stopPale} />
      <rect x={L} y={y(start)} width={W - R - L} height={Math.max(0, y(figure.lowest_point.value) - y(start))} fill={tokens.planPale} opacity="0.35" />
      <path d={`M${L} ${y(answer.floor.value)}H${W - R}`} stroke={tokens.stop} strokeWidth="2.2" />
      <path d={`M${L} ${y(figure.take_over.value)}H${W - R}`} stroke={tokens.mind} strokeWidth="2" strokeDasharray="5 3" />
      <path d={`M${L} ${y(figure.lowest_point.value)}H${W - R}`} stroke={tokens.slate} strokeWidth="1" />
      <path d={`M${d}`} fill="none" stroke={tokens.plan} strokeWidth="4" strokeLinejoin="round" />
      {lines.map((line) => <text key={line.words} x={W - R + 8} y={line.y + 4} fill={line.colour} fontWeight="660">{line.words}</text>)}
      {x.ticks(5).map((s) => <text key={s} x={x(s)} y={H - 7} textAnchor="middle" fill={tokens.slate}>{s} s</text>)}
      {y.ticks(5).map((ft) => <text key={ft} x={L - 6} y={y(ft) + 4} textAnchor="end" fill={tokens.slate}>{ft.toLocaleString("en")}</text>)}
    </Box>
  );
}

/** Labels pushed apart so that none lies on another. */
function apart<T extends { at: number }>(lines: T[], least = 15): (T & { y: number })[] {
  const sorted = [...lines].sort((a, b) => a.at - b.at);
  let last = -Infinity;
  const placed = sorted.map((line) => {
    last = Math.max(line.at, last + least);
    return { ...line, y: last };
  });
  const over = Math.max(0, last - (H - B + 8));
  return placed.map((line, i) => ({ ...line, y: Math.max(line.y - over, T + i * least) }));
}
