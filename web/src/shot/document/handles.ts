import { valueAt } from "./pointer";
import type { Operation, Shot } from "./patches";
import { channelAt, keysOf, type Ease, type Key } from "./values";

/** Handles of the way from one key to the next: shares of its time, and values above either key's own. */
export interface Handles {
  x1: number;
  x2: number;
  out: number;
  back: number;
}

/** The handles that draw a way as its ease has it; where an ease has none, those of an even pace. */
export function handlesOf(from: Key, to: Key): Handles {
  const ease = from.ease!;
  const way = to.value - from.value;
  const { x1, x2 } = ease as Required<Ease>;
  if (ease.kind === "handles") return { x1, x2, out: ease.out!, back: ease.back! };
  if (ease.kind === "cubic-bezier") return { x1, x2, out: ease.y1! * way, back: (ease.y2! - 1) * way };
  return { x1: 1 / 3, x2: 2 / 3, out: way / 3, back: -way / 3 };
}

export const easedBy = (ease: Ease, handles: Handles): Ease => ({ ...ease, ...handles, kind: "handles" });

export type Side = "out" | "back";
export type Triple = [number, number, number];

/** The keys of a value on both sides of a handle, and which of them tells its ease. */
function ends(shot: Shot, pointer: string, frame: number, side: Side) {
  const keys = keysOf(shot, pointer);
  const index = keys.findIndex((key) => key.frame === frame);
  const place = side === "out" ? index : index - 1;
  const [from, to] = [keys[place], keys[place + 1]];
  return index >= 0 && from && to ? { place, from, to } : null;
}

const axesOf = (at: string) => ["x", "y", "z"].map((axis) => `${at}/${axis}`);

/** How far a handle of a place stands from its key at a frame (null: it has none on this side). */
export function handleAt(shot: Shot, at: string, frame: number, side: Side): Triple | null {
  const found = axesOf(at).map((pointer) => {
    const end = ends(shot, pointer, frame, side);
    return end && handlesOf(end.from, end.to)[side];
  });
  if (found.every((value) => value === null)) return null;
  const far = found.map((value) => value ?? 0) as Triple;
  if (Math.hypot(...far) > 1e-6) return far;
  // A way that begins softly has it in its key, where it could not be taken hold of.
  return axesOf(at).map((pointer) => {
    const end = ends(shot, pointer, frame, side);
    return end ? ((end.to.value - end.from.value) / 3) * (side === "out" ? 1 : -1) : 0;
  }) as Triple;
}

/** Put a handle of a place so far from its key; values without a key there stay as they are. */
export function putHandle(shot: Shot, at: string, frame: number, side: Side, far: Triple): Operation[] {
  return axesOf(at).flatMap((pointer, k): Operation[] => {
    const end = ends(shot, pointer, frame, side);
    if (!end) return [];
    const handles = { ...handlesOf(end.from, end.to), [side]: Number(far[k]!.toFixed(5)) };
    const path = `${channelAt(pointer)}/keys/${end.place}/ease`;
    return [{ op: "replace", path, value: easedBy(valueAt(shot, path) as Ease, handles) }];
  });
}

/** The handle on the other side, turned so that the path has no corner; as long as it was. */
export function joined(far: Triple, other: Triple): Triple {
  const share = -Math.hypot(...other) / Math.max(Math.hypot(...far), 1e-9);
  return far.map((value) => value * share) as Triple;
}
