import { Box } from "@mui/material";
import { scaleLinear, type ScaleLinear } from "d3-scale";
import type { ReactNode } from "react";
import type { FaultSeen, Lanes } from "../api/types";
import { useSize } from "../frame/useSize";
import { narrow, tokens, unseen } from "../theme";

const L = 76,
  R = 12,
  T = 18,
  B = 20;

interface Props {
  lanes: Lanes;
  /** Faults that the recording shows, in the order of their numbers. */ faults: readonly FaultSeen[];
  onFault: (fault: FaultSeen) => void;
  title: string;
  /** What moves over it, by its scale of seconds from the call. */ over?: (
    x: ScaleLinear<number, number>,
    top: number,
    bottom: number,
  ) => ReactNode;
}

/** What is no input of the recovery is pale: power, the turning itself, and what is held for the spin. */
const pale = (control: string, way: string) =>
  control === "Throttle" || control === "Rotation" || way === "into the turn";
const short = (way: string) => way.split(" ")[0] ?? way;

/** Order and timing of the inputs from the call on: what was flown solid, the method as briefed around it in dashes. */
export function ControlLanes({ lanes, faults, onFault, title, over }: Props) {
  const { frame, size } = useSize<HTMLDivElement>({ width: 620, height: 180 });
  const { width: W, height: H } = size;
  const rows = lanes.lanes.filter((lane) => lane.flown.length + lane.method.length > 0);
  const x = scaleLinear()
    .domain([lanes.from_s, lanes.to_s])
    .range([L, W - R]);
  const step = (H - T - B) / Math.max(1, rows.length);
  const middle = (i: number) => T + step * (i + 0.5);
  const thick = Math.min(20, step * 0.6);
  const at = (fault: FaultSeen) => Math.min(lanes.to_s, Math.max(lanes.from_s, fault.at_s - lanes.called_s));
  const row = (fault: FaultSeen) => {
    const found = rows.findIndex((lane) => lane.control === fault.control);
    return found < 0 ? T - 8 : middle(found);
  };
  return (
    <Box
      ref={frame}
      sx={{ position: "relative", minWidth: 0, minHeight: 150, height: "100%", bgcolor: tokens.sheet }}
    >
      <svg
        width={W}
        height={H}
        style={{ ...narrow, fontSize: 12, display: "block", position: "absolute" }}
        role="img"
        aria-label={`${title}: order and timing of the inputs`}
      >
        {x.ticks(Math.min(12, Math.round(lanes.to_s - lanes.from_s))).map((s) => (
          <g key={s}>
            <path d={`M${x(s)} ${T}V${H - B}`} stroke={tokens.hairline} strokeWidth={s === 0 ? 1.6 : 0.6} />
            <text
              x={x(s)}
              y={H - 5}
              textAnchor="middle"
              fill={s === 0 ? tokens.ink : tokens.slate}
              fontWeight={s === 0 ? 680 : undefined}
            >
              {s === 0 ? "call" : `${s} s`}
            </text>
          </g>
        ))}
        {rows.map((lane, i) => (
          <g key={lane.control}>
            <text x={L - 8} y={middle(i) + 4} textAnchor="end" fill={tokens.ink} fontWeight="600">
              {lane.control}
            </text>
            <path d={`M${L} ${middle(i) + step / 2}H${W - R}`} stroke={tokens.hairline} strokeWidth="0.7" />
            {lane.flown.map((one) => (
              <g key={`${one.way} ${one.from_s}`}>
                <rect
                  x={x(one.from_s)}
                  y={middle(i) - thick / 2}
                  width={Math.max(2, x(one.to_s) - x(one.from_s))}
                  height={thick}
                  rx="2"
                  fill={tokens.flown}
                  opacity={pale(lane.control, one.way) ? 0.4 : 0.85}
                >
                  <title>{`${lane.control} ${one.way}, ${seconds(one.from_s)} to ${seconds(one.to_s)}`}</title>
                </rect>
                {x(one.to_s) - x(one.from_s) > short(one.way).length * 6.2 + 8 &&
                  lane.control !== "Rotation" && (
                    <text
                      x={x(one.from_s) + (faultAt(faults, lane.control, at, one) ? 20 : 5)}
                      y={middle(i) + 4}
                      fill={pale(lane.control, one.way) ? tokens.ink : tokens.sheet}
                    >
                      {short(one.way)}
                    </text>
                  )}
              </g>
            ))}
            {lane.control !== "Rotation" &&
              lane.method.map((one) => (
                <rect
                  key={`method ${one.way} ${one.from_s}`}
                  x={x(one.from_s)}
                  y={middle(i) - thick / 2 - 3}
                  width={Math.max(2, x(Math.min(one.to_s, lanes.to_s)) - x(one.from_s))}
                  height={thick + 6}
                  rx="2"
                  fill="none"
                  stroke={tokens.best}
                  strokeWidth="1.8"
                  strokeDasharray="4 3"
                />
              ))}
          </g>
        ))}
        {faults.map((fault, i) => (
          <g
            key={fault.key}
            transform={`translate(${x(at(fault))} ${row(fault)})`}
            style={{ cursor: "pointer" }}
            onClick={() => onFault(fault)}
          >
            <title>{fault.words}</title>
            <circle r="9" fill={tokens.mind} stroke={tokens.sheet} strokeWidth="1.5" />
            <text textAnchor="middle" y="4" fill={tokens.sheet} fontWeight="720">
              {i + 1}
            </text>
          </g>
        ))}
        {over?.(x, T, H - B)}
      </svg>
      <Box sx={unseen}>
        {rows
          .map(
            (lane) =>
              `${lane.control}: ${said(lane.flown) || "not moved"}${lane.control === "Rotation" ? "" : `; as briefed ${said(lane.method) || "not moved"}`}`,
          )
          .join(". ")}
      </Box>
    </Box>
  );
}

const seconds = (s: number) => `${s < 0 ? "−" : ""}${Math.abs(s).toFixed(1)} s`;

function said(stretches: Lanes["lanes"][number]["flown"]) {
  return stretches.map((one) => `${one.way} from ${seconds(one.from_s)} to ${seconds(one.to_s)}`).join(", ");
}

function faultAt(
  faults: readonly FaultSeen[],
  control: string,
  at: (fault: FaultSeen) => number,
  stretch: { from_s: number; to_s: number },
) {
  return faults.some((f) => f.control === control && Math.abs(at(f) - stretch.from_s) < 0.25);
}
