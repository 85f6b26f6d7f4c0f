import type { Operation, Shot } from "./patches";
import { escaped, valueAt } from "./pointer";

type Told = string | boolean;

const keysOf = (shot: Shot | null, pointer: string) => shot?.changes?.[pointer]?.keys ?? [];

/**
 * What a choice, a switch or a text is at a frame: as from the last change on, before the first as from
 * that.
 */
export function toldAt(shot: Shot | null, pointer: string, frame: number): unknown {
  const keys = keysOf(shot, pointer);
  if (!keys.length) return valueAt(shot, pointer);
  return (keys.findLast((key) => (key.frame ?? 0) <= frame) ?? keys[0])!.value;
}

/** Set it: where it changes over time, from this frame on; else once and for all. */
export function setTold(shot: Shot, pointer: string, value: Told, frame: number): Operation[] {
  return keysOf(shot, pointer).length
    ? changeAt(shot, pointer, value, frame)
    : [{ op: "replace", path: pointer, value }];
}

/** Let it be so from a frame on. */
export function changeAt(shot: Shot, pointer: string, value: Told, frame: number): Operation[] {
  const others = keysOf(shot, pointer).filter((key) => key.frame !== frame);
  const keys = [...others, { frame, value }].sort((a, b) => (a.frame ?? 0) - (b.frame ?? 0));
  return [{ op: "add", path: `/changes/${escaped(pointer)}`, value: { keys } }];
}

/** Remove the change at a frame; with the last one it stays as it is then. */
export function unchangeAt(shot: Shot, pointer: string, frame: number): Operation[] {
  const path = `/changes/${escaped(pointer)}`;
  const keys = keysOf(shot, pointer).filter((key) => key.frame !== frame);
  if (keys.length) return [{ op: "replace", path: `${path}/keys`, value: keys }];
  return [
    { op: "remove", path },
    { op: "replace", path: pointer, value: toldAt(shot, pointer, frame) },
  ];
}
