import type { KeyboardEvent } from "react";

/**
 * How far an arrow key moves something on the plot, in metres across and down: more with Shift, less with
 * Alt; null for other keys.
 */
export function nudge(event: KeyboardEvent): [number, number] | null {
  const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
  if (!way) return null;
  event.preventDefault();
  event.stopPropagation();
  const by = event.shiftKey ? 0.5 : event.altKey ? 0.005 : 0.05;
  return [way[0]! * by, way[1]! * by];
}
