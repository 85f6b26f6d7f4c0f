import { cameraAsked, cameraTold, lookedThrough } from "./cameras";
import type { Operation, Shot } from "./patches";
import { valueAt } from "./pointer";
import type { Scene } from "./scene";
import { setValue } from "./values";

export type Point = [number, number, number];

const AXES = ["x", "y", "z"] as const;
const rounded = (value: number) => Number(value.toFixed(4));

/**
 * The inverse of the upper three rows of a row-major matrix, applied to a point, or to a way (`way`:
 * without its place).
 */
function under(matrix: ArrayLike<number>, point: Point, way: boolean): Point {
  const m = (row: number, column: number) => matrix[row * 4 + column]!;
  const p = way ? point : AXES.map((_, row) => point[row]! - m(row, 3));
  const cofactor = (r: number, c: number) => {
    const [r1, r2, c1, c2] = [(r + 1) % 3, (r + 2) % 3, (c + 1) % 3, (c + 2) % 3];
    return m(r1, c1) * m(r2, c2) - m(r1, c2) * m(r2, c1);
  };
  const whole = [0, 1, 2].reduce((sum, c) => sum + m(0, c) * cofactor(0, c), 0) || 1e-12;
  return [0, 1, 2].map((row) =>
    [0, 1, 2].reduce((sum, column) => sum + (cofactor(column, row) * p[column]!) / whole, 0),
  ) as Point;
}

/** A way in the room as what hangs on something has it; `key` is the name of a thing, or camera. */
export function wayWithin(scene: Scene, key: string, frame: number, way: Point): Point {
  return scene.has(`space/${key}`) ? under(scene.at(`space/${key}`, frame), way, true) : way;
}

/** A way of what hangs on something as the room has it: the inverse of `wayWithin`. */
export function wayInRoom(scene: Scene, key: string, frame: number, way: Point): Point {
  if (!scene.has(`space/${key}`)) return way;
  const matrix = scene.at(`space/${key}`, frame);
  return [0, 1, 2].map((row) =>
    way.reduce((sum, value, column) => sum + matrix[row * 4 + column]! * value, 0),
  ) as Point;
}

function pointWithin(scene: Scene, key: string, frame: number, point: Point): Point {
  return scene.has(`space/${key}`) ? under(scene.at(`space/${key}`, frame), point, false) : point;
}

/** Put the camera where it stands in the room, in the way its rig and what it hangs on have it. */
export function cameraOperations(
  shot: Shot,
  scene: Scene,
  pose: { position: Point; aim: Point },
  frame: number,
  at = lookedThrough(shot, frame),
): Operation[] {
  const camera = valueAt(shot, at) as NonNullable<Shot["camera"]>;
  const told = cameraTold(scene, at);
  const follows = Boolean(camera.aim_at) && shot.things?.[camera.aim_at!] !== undefined;
  const followed = scene.triple(`${told}/followed`, frame);
  const aim = follows
    ? (pose.aim.map((value, i) => value - followed[i]!) as Point)
    : pointWithin(scene, cameraAsked(at), frame, pose.aim);
  const operations: Operation[] = [];
  const before = scene.triple(`${told}/aim`, frame);
  if (Math.hypot(...pose.aim.map((value, i) => value - before[i]!)) > 1e-5)
    AXES.forEach((axis, i) =>
      operations.push(...setValue(shot, `${at}/aim/${axis}`, rounded(aim[i]!), frame)),
    );
  if (camera.rig !== "orbit") {
    const position = pointWithin(scene, cameraAsked(at), frame, pose.position);
    AXES.forEach((axis, i) =>
      operations.push(...setValue(shot, `${at}/position/${axis}`, rounded(position[i]!), frame)),
    );
    return operations;
  }
  const away = pose.position.map((value, i) => value - pose.aim[i]!) as Point;
  const [x, y, z] = wayWithin(scene, cameraAsked(at), frame, away);
  const now = (name: string) =>
    scene.valueAt(`${at}/${name}`, frame) ?? Number(camera[name as "azimuth"] ?? 0);
  const turned = (Math.atan2(x, z) * 180) / Math.PI;
  // On from where it is: a camera that has gone round twice does not fly back.
  const azimuth = turned + 360 * Math.round((now("azimuth") - turned) / 360);
  const elevation = (Math.atan2(y, Math.hypot(x, z)) * 180) / Math.PI;
  const lens = camera.keeps === "size" ? 50 / now("focal_length") : 1;
  const wanted = {
    azimuth,
    elevation: Math.max(-89.9, Math.min(89.9, elevation)),
    distance: Math.max(0.02, Math.hypot(...away) * lens),
  };
  for (const [name, value] of Object.entries(wanted))
    if (Math.abs(value - now(name)) > 1e-4)
      operations.push(...setValue(shot, `${at}/${name}`, rounded(value), frame));
  return operations;
}
