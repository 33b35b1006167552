import { Box } from "@mui/material";
import { scaleLinear } from "d3-scale";
import { useRef } from "react";
import { narrow, tokens } from "../../theme";

interface Props {
  value: number | null;
  preset: number;
  floor: number;
  takeOver: number;
  top: number;
  label: string;
  disabled: boolean;
  onValue: (feet: number, gesture: string) => void;
}

const W = 104,
  H = 430;

/** A height is set by dragging the tape; it moves by 20 ft. */
export function Tape({ value, preset, floor, takeOver, top, label, disabled, onValue }: Props) {
  const box = useRef<SVGSVGElement>(null);
  const gesture = useRef("");
  const y = scaleLinear()
    .domain([floor - 300, top + 200])
    .range([H - 12, 12]);
  const at = value ?? preset;
  const step = (top - floor) / 6 > 300 ? 500 : 200;
  const marks: number[] = [];
  for (let ft = Math.ceil(floor / step) * step; ft <= top; ft += step) marks.push(ft);
  const feet = (e: React.PointerEvent) => {
    const rect = box.current?.getBoundingClientRect();
    return rect
      ? Math.max(0, Math.round(y.invert(((e.clientY - rect.top) * H) / rect.height) / 20) * 20)
      : at;
  };
  return (
    <Box
      component="svg"
      ref={box}
      viewBox={`0 0 ${W} ${H}`}
      preserveAspectRatio="none"
      sx={{
        width: W,
        height: "100%",
        minHeight: 300,
        maxHeight: 560,
        ...narrow,
        fontSize: 14,
        fontWeight: 660,
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
      aria-disabled={disabled}
      onPointerDown={(e: React.PointerEvent<SVGSVGElement>) => {
        if (disabled) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        gesture.current = `held tape ${e.timeStamp}`;
        onValue(feet(e), gesture.current);
      }}
      onPointerMove={(e: React.PointerEvent<SVGSVGElement>) => {
        if (!disabled && e.currentTarget.hasPointerCapture(e.pointerId)) onValue(feet(e), gesture.current);
      }}
      onKeyDown={(e: React.KeyboardEvent) => {
        if (disabled || !["ArrowUp", "ArrowDown"].includes(e.key)) return;
        e.preventDefault();
        onValue(at + (e.key === "ArrowUp" ? 20 : -20), `tape keys ${label}`);
      }}
    >
      <rect x={50} y={2} width={50} height={H - 4} fill={tokens.sheet} stroke={tokens.ink} strokeWidth="3" />
      <rect
        x={52}
        y={y(takeOver)}
        width={46}
        height={Math.max(0, y(floor) - y(takeOver))}
        fill={tokens.mindPale}
      />
      <rect x={52} y={y(floor)} width={46} height={Math.max(0, H - 4 - y(floor))} fill={tokens.stopPale} />
      <path d={`M50 ${y(floor)}H100`} stroke={tokens.stop} strokeWidth="4" />
      <path d={`M50 ${y(top)}H100`} stroke={tokens.ink} strokeWidth="3" />
      {marks.map((ft) => (
        <g key={ft}>
          <path d={`M50 ${y(ft)}h10`} stroke={tokens.ink} strokeWidth="2" />
          <text x={45} y={y(ft) + 5} textAnchor="end">
            {ft.toLocaleString("en")}
          </text>
        </g>
      ))}
      <path
        d={`M52 ${y(at)}H98`}
        stroke={value === null ? tokens.slate : tokens.flown}
        strokeWidth="4"
        strokeDasharray={value === null ? "4 3" : undefined}
      />
      <circle
        cx={75}
        cy={y(at)}
        r={12}
        fill={value === null ? tokens.sheet : tokens.flown}
        stroke={value === null ? tokens.slate : tokens.flown}
        strokeWidth="3"
      />
    </Box>
  );
}
