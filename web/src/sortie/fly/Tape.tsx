import { Box } from "@mui/material";
import { scaleLinear } from "d3-scale";
import { useRef } from "react";
import { useSize } from "../../frame/useSize";
import { narrow, tokens } from "../../theme";
import { NOTCH_FT } from "./steps";

interface Props {
  /** The height that the next key has, and whether it is noted. */ at: number;
  noted: boolean;
  /** Where the figure began; null before it did. */ start: number | null;
  /** Down to where it is planned to go. */ planned: number;
  floor: number;
  takeOver: number;
  top: number;
  label: string;
  disabled: boolean;
  onSlide: (ft: number | null) => void;
  onTake: (ft: number) => void;
}

const W = 92,
  LEFT = 46,
  RIGHT = 86;

/** The block as a tape, with floor and take-over band: the height of the next key can be drawn along it. */
export function Tape(props: Props) {
  const { at, noted, start, planned, floor, takeOver, top, label, disabled, onSlide, onTake } = props;
  const box = useRef<SVGSVGElement>(null);
  const { frame, size } = useSize<HTMLDivElement>({ width: W, height: 400 });
  const H = Math.max(120, size.height);
  const held = useRef<number | null>(null);
  const high = Math.max(top, start ?? 0, at) + 200;
  const y = scaleLinear()
    .domain([Math.min(floor, at) - 250, high])
    .range([H - 4, 4]);
  const step = (high - floor) / 6 > 300 ? 500 : 200;
  const marks: number[] = [];
  for (let ft = Math.ceil(floor / step) * step; ft <= high; ft += step) marks.push(ft);
  const feet = (e: React.PointerEvent) => {
    const rect = box.current?.getBoundingClientRect();
    const ft = rect ? y.invert(((e.clientY - rect.top) * H) / rect.height) : at;
    return Math.max(0, Math.round(ft / NOTCH_FT) * NOTCH_FT);
  };
  const middle = (LEFT + RIGHT) / 2;
  return (
    <Box ref={frame} sx={{ width: W, height: "100%", minHeight: 150 }}>
      <Box
        component="svg"
        ref={box}
        viewBox={`0 0 ${W} ${H}`}
        sx={{
          width: W,
          height: H,
          display: "block",
          ...narrow,
          fontSize: 14.5,
          fontWeight: 660,
          "& path, & rect, & circle": { strokeWidth: "calc(var(--w, 3) * var(--kt-heavy) * 1px)" },
          touchAction: "none",
          cursor: disabled ? "default" : "ns-resize",
        }}
        role="slider"
        tabIndex={disabled ? -1 : 0}
        aria-label={`${label} height`}
        aria-orientation="vertical"
        aria-valuemin={0}
        aria-valuemax={30000}
        aria-valuenow={at}
        aria-valuetext={`${at.toLocaleString("en")} ft`}
        aria-disabled={disabled}
        onPointerDown={(e: React.PointerEvent<SVGSVGElement>) => {
          if (disabled) return;
          e.currentTarget.setPointerCapture(e.pointerId);
          held.current = feet(e);
          onSlide(held.current);
        }}
        onPointerMove={(e: React.PointerEvent) => {
          if (held.current === null) return;
          held.current = feet(e);
          onSlide(held.current);
        }}
        onPointerUp={() => {
          const ft = held.current;
          held.current = null;
          if (ft !== null) onTake(ft);
        }}
        onPointerCancel={() => {
          held.current = null;
          onSlide(null);
        }}
        onKeyDown={(e: React.KeyboardEvent) => {
          if (disabled) return;
          if (e.key === "Enter") return onTake(at);
          if (e.key !== "ArrowUp" && e.key !== "ArrowDown") return;
          e.preventDefault();
          onSlide(Math.max(0, at + (e.key === "ArrowUp" ? NOTCH_FT : -NOTCH_FT)));
        }}
      >
        <rect
          x={LEFT}
          y={2}
          width={RIGHT - LEFT}
          height={H - 4}
          fill={tokens.sheet}
          stroke={tokens.ink}
          style={{ "--w": 3 } as React.CSSProperties}
        />
        <rect
          x={LEFT + 2}
          y={y(takeOver)}
          width={RIGHT - LEFT - 4}
          height={Math.max(0, y(floor) - y(takeOver))}
          fill={tokens.mindPale}
        />
        <rect
          x={LEFT + 2}
          y={y(floor)}
          width={RIGHT - LEFT - 4}
          height={Math.max(0, H - 4 - y(floor))}
          fill={tokens.stopPale}
        />
        <path
          d={`M${LEFT} ${y(takeOver)}H${RIGHT}`}
          stroke={tokens.mind}
          style={{ "--w": 3 } as React.CSSProperties}
        />
        <path
          d={`M${LEFT} ${y(floor)}H${RIGHT}`}
          stroke={tokens.stop}
          style={{ "--w": 5 } as React.CSSProperties}
        />
        <path
          d={`M${LEFT} ${y(top)}H${RIGHT}`}
          stroke={tokens.ink}
          style={{ "--w": 3 } as React.CSSProperties}
        />
        {marks.map((ft) => (
          <g key={ft}>
            <path d={`M${LEFT} ${y(ft)}h8`} stroke={tokens.ink} style={{ "--w": 2 } as React.CSSProperties} />
            <text x={LEFT - 5} y={y(ft) + 5} textAnchor="end" fill={tokens.ink}>
              {ft.toLocaleString("en")}
            </text>
          </g>
        ))}
        <path
          d={`M${middle} ${y(start ?? at)}V${y(Math.min(planned, start ?? at))}`}
          stroke={tokens.plan}
          style={{ "--w": 5 } as React.CSSProperties}
          strokeDasharray="8 6"
        />
        {start !== null && (
          <path
            d={`M${middle} ${y(start)}V${y(at)}`}
            stroke={tokens.flown}
            style={{ "--w": 8 } as React.CSSProperties}
          />
        )}
        <circle
          cx={middle}
          cy={y(at)}
          r={13}
          fill={noted ? tokens.flown : tokens.sheet}
          stroke={tokens.flown}
          style={{ "--w": 5 } as React.CSSProperties}
        />
      </Box>
    </Box>
  );
}
