import { escaped, valueAt } from "../document/pointer";
import type { Operation, Shot } from "../document/patches";
import { numberAt, setValue } from "../document/values";
import { poseName } from "../bench/SingleOut";
import type { Single, View } from "../view";
import type { Grip, Hit } from "./live/picking";
import type { LiveStage } from "./live/stage";

/** A drag that shapes what it took hold of: how far in pixels, to edits. */
export type Shaping = (dx: number, dy: number, frame: number, shot: Shot) => Operation[];

/**
 * What a drag that begins here would do to the thing pointed at: on the edge it changes the reach, on
 * the wall the depth; with a letter, word or line singled out, it moves that. Null: it turns the view.
 * `fresh` is a pose that does nothing yet.
 */
export function shapingAt(
  stage: LiveStage,
  shot: Shot,
  view: View,
  found: { hit: Hit; grip: Grip },
  height: number,
  fresh: unknown,
): Shaping | null {
  const { hit, grip } = found;
  const { pointed, single } = view;
  if (typeof pointed !== "object" || pointed.thing !== hit.thing) return null;
  const at = `/things/${escaped(hit.thing)}`;
  const words = valueAt(shot, `${at}/words`);
  if (single !== "title" && typeof words === "string")
    return moves(
      stage,
      shot,
      at,
      poseName(words, single as Exclude<Single, "title">, hit.source),
      grip,
      height,
      fresh,
    );
  if (hit.part === "bevel") {
    const edge = `${at}/body/${grip.at.z >= 0 === facesFront(grip) ? "front" : "back"}`;
    if (valueAt(shot, `${edge}/reach`) === undefined) return null;
    // Inward is against the way the edge faces, in the plane of the letter.
    const flat = Math.hypot(grip.facing[0], grip.facing[1]) || 1;
    return along(
      stage,
      grip,
      [-grip.facing[0] / flat, -grip.facing[1] / flat, 0],
      `${edge}/reach`,
      shot,
      height,
      1,
    );
  }
  if (hit.part === "wall" && valueAt(shot, `${at}/body/depth`) !== undefined) {
    const both = valueAt(shot, `${at}/body/direction`) === "both";
    return along(stage, grip, [0, 0, -1], `${at}/body/depth`, shot, height, both ? 2 : 1);
  }
  return null;
}

const facesFront = (grip: Grip) => grip.facing[2] >= 0;

/** A value that grows with the drag along a direction of the letter. */
function along(
  stage: LiveStage,
  grip: Grip,
  direction: [number, number, number],
  pointer: string,
  shot: Shot,
  height: number,
  factor: number,
): Shaping {
  const [sx, sy] = stage.seen.slope(grip, direction);
  const length = Math.hypot(sx, sy);
  const from = numberAt(shot, pointer);
  // Seen end on, a direction has no length in the picture: then up is more.
  const [ux, uy, metres] =
    length > 0.02
      ? [sx / length, sy / length, 1 / (length * height)]
      : [0, -1, stage.metresPerHeight() / height];
  return (dx, dy, frame, now) => {
    const value = Math.max(
      pointer.endsWith("depth") ? 0.001 : 0,
      from + factor * (dx * ux + dy * uy) * metres,
    );
    return setValue(now, pointer, Number(Math.min(value, 5).toFixed(4)), frame);
  };
}

/** Moves a letter, word or line in the plane of the title. */
function moves(
  stage: LiveStage,
  shot: Shot,
  at: string,
  name: string,
  grip: Grip,
  height: number,
  fresh: unknown,
): Shaping {
  const pose = `${at}/setting/poses/${escaped(name)}`;
  const known = valueAt(shot, pose) !== undefined;
  const from = [numberAt(shot, `${pose}/move/x`), numberAt(shot, `${pose}/move/y`)] as const;
  const [ax, ay] = stage.seen.slope(grip, [1, 0, 0]);
  const [bx, by] = stage.seen.slope(grip, [0, 1, 0]);
  const det = ax * by - bx * ay || 1e-6;
  let added = known;
  return (dx, dy, frame, now) => {
    const [px, py] = [dx / height, dy / height];
    const x = Number((from[0] + (px * by - py * bx) / det).toFixed(4));
    const y = Number((from[1] + (py * ax - px * ay) / det).toFixed(4));
    if (!added) {
      added = true;
      return [{ op: "add", path: pose, value: { ...(fresh as object), move: { x, y, z: 0 } } }];
    }
    return [...setValue(now, `${pose}/move/x`, x, frame), ...setValue(now, `${pose}/move/y`, y, frame)];
  };
}

/** What the pointer is shaped like over a part. */
export function cursorFor(shot: Shot, view: View, hit: Hit | null): string {
  if (!hit || typeof view.pointed !== "object" || view.pointed.thing !== hit.thing) return "";
  if (view.single !== "title") return "move";
  if (hit.part === "bevel" && valueAt(shot, `/things/${escaped(hit.thing)}/body/front`) !== undefined)
    return "ew-resize";
  return hit.part === "wall" ? "nesw-resize" : "";
}
