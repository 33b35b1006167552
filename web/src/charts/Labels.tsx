import { placed, type Box, type Label } from "./labels";

interface Props {
  labels: readonly Label[];
  taken?: readonly Box[];
  room: Box;
}

/** Words on a picture, none on another. */
export function Labels({ labels, taken = [], room }: Props) {
  return placed(labels, taken, room).map((label, i) => (
    <text
      key={i}
      x={label.x}
      y={label.y}
      textAnchor={label.anchor}
      fontSize={label.size}
      fontWeight={label.bold ? 680 : undefined}
      fill={label.colour}
      stroke="none"
    >
      {label.words}
    </text>
  ));
}
