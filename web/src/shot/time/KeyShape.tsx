import type { PointerEvent } from "react";
import type { ChosenKey } from "../view";

/**
 * How a key leaves: round eases, a triangle is linear, a square holds, a notched one steps, waves swing or
 * bounce, one with points on both sides has handles.
 */
const SHAPES: Record<string, string> = {
  "cubic-bezier": "M-4.5 0a4.5 4.5 0 1 0 9 0a4.5 4.5 0 1 0 -9 0",
  linear: "M-4 -4.8L5 0L-4 4.8Z",
  hold: "M-4 -4H4V4H-4Z",
  steps: "M-5 5V1.5H-1.5V-2H2V-5H5V5Z",
  smooth: "M-5.5 0C-5.5 -3.4 5.5 -3.4 5.5 0C5.5 3.4 -5.5 3.4 -5.5 0Z",
  spring: "M0 -5.5L5.5 0L0 5.5L-5.5 0Z",
  bounce: "M-5 4A5 7 0 0 1 5 4Z",
  handles: "M-6 0L-2.5 -2.5A3.5 3.5 0 0 1 2.5 -2.5L6 0L2.5 2.5A3.5 3.5 0 0 1 -2.5 2.5Z",
};

interface Props {
  x: number;
  y: number;
  ease: string;
  chosen: boolean;
  label: string;
  /** The keys it stands for. */
  keys: ChosenKey[];
  onPointerDown: (event: PointerEvent<SVGGElement>) => void;
  onPointerMove: (event: PointerEvent<SVGGElement>) => void;
  onPointerUp: () => void;
}

export function KeyShape({ x, y, ease, chosen, label, keys, ...pointer }: Props) {
  return (
    <g
      className={`key${chosen ? " chosen" : ""}`}
      transform={`translate(${x} ${y})`}
      role="button"
      aria-label={label}
      data-keys={JSON.stringify(keys)}
      aria-pressed={chosen}
      {...pointer}
      onPointerCancel={pointer.onPointerUp}
    >
      <circle r={9} className="catch" />
      <path d={SHAPES[ease] ?? SHAPES["cubic-bezier"]} />
    </g>
  );
}
