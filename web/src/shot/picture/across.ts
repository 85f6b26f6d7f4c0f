import type { Point } from "../document/spaces";

export type Place = [number, number];

/** Where a point of the room is seen in the picture, in shares of it. */
export type Project = (point: Point) => Place | null;

/** The shortest way in the room that goes so far across the picture: least squares over small steps. */
export function across(project: Project, point: Point, by: Place): Point | null {
  const STEP = 1e-3;
  const here = project(point);
  if (!here) return null;
  const rows: [Point, Point] = [
    [0, 0, 0],
    [0, 0, 0],
  ];
  for (let k = 0; k < 3; k++) {
    const there = project(point.map((value, i) => value + (i === k ? STEP : 0)) as Point);
    if (!there) return null;
    rows[0][k] = (there[0] - here[0]) / STEP;
    rows[1][k] = (there[1] - here[1]) / STEP;
  }
  const dot = (a: Point, b: Point) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
  const [aa, ab, bb] = [dot(rows[0], rows[0]), dot(rows[0], rows[1]), dot(rows[1], rows[1])];
  const whole = aa * bb - ab * ab;
  if (Math.abs(whole) < 1e-18) return null;
  const [u, v] = [(bb * by[0] - ab * by[1]) / whole, (aa * by[1] - ab * by[0]) / whole];
  return rows[0].map((value, k) => value * u + rows[1][k]! * v) as Point;
}
