import type { PointerEvent } from "react";

/** How a key leaves: round eases, a triangle is linear, a square holds. */
const SHAPES: Record<string, string> = {
  "cubic-bezier": "M-4.5 0a4.5 4.5 0 1 0 9 0a4.5 4.5 0 1 0 -9 0",
  linear: "M-4 -4.8L5 0L-4 4.8Z",
  hold: "M-4 -4H4V4H-4Z",
};

interface Props {
  x: number;
  y: number;
  ease: string;
  chosen: boolean;
  label: string;
  onPointerDown: (event: PointerEvent<SVGGElement>) => void;
  onPointerMove: (event: PointerEvent<SVGGElement>) => void;
  onPointerUp: () => void;
}

export function KeyShape({ x, y, ease, chosen, label, ...pointer }: Props) {
  return (
    <g
      className={`key${chosen ? " chosen" : ""}`}
      transform={`translate(${x} ${y})`}
      role="button"
      aria-label={label}
      aria-pressed={chosen}
      {...pointer}
      onPointerCancel={pointer.onPointerUp}
    >
      <circle r={9} className="catch" />
      <path d={SHAPES[ease] ?? SHAPES["cubic-bezier"]} />
    </g>
  );
}
