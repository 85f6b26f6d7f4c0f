import type { Scene } from "../document/scene";
import type { Listed } from "../things";
/**
 * Plan looks straight down, the camera's side below; elevation looks from the left, the camera's side to
 * the right.
 */
export type Side = "plan" | "elevation";

type V = ArrayLike<number>;

/** Drawing coordinates (metres, y down) of a point in space. */
export const onPaper = (side: Side, p: V): [number, number] =>
  side === "plan" ? [p[0]!, p[2]!] : [p[2]!, -p[1]!];

/** Which coordinates a move on paper changes, and which way. */
export const AXES: Record<Side, [["x" | "y" | "z", number], ["x" | "y" | "z", number]]> = {
  plan: [
    ["x", 1],
    ["z", 1],
  ],
  elevation: [
    ["z", 1],
    ["y", -1],
  ],
};

export interface Extent {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** A frame around points, with air, in the shape of the paper. */
export function around(points: [number, number][], aspect: number): Extent {
  const xs = points.map((p) => p[0]);
  const ys = points.map((p) => p[1]);
  const [l, r, t, b] = [Math.min(...xs, -1), Math.max(...xs, 1), Math.min(...ys, -1), Math.max(...ys, 1)];
  let [width, height] = [(r - l) * 1.18, (b - t) * 1.18];
  if (width / height < aspect) width = height * aspect;
  else height = width / aspect;
  return { x: (l + r - width) / 2, y: (t + b - height) / 2, width, height };
}

/** What every drawing of a thing on the plot is told. */
export interface Drawn {
  scene: Scene;
  frame: number;
  side: Side;
  pixel: number;
  thing: Listed;
  chosen: boolean;
}
