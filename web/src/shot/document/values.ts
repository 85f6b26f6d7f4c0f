import type { Schemas } from "../../api/client";
import { escaped, valueAt } from "./pointer";
import type { Operation, Shot } from "./patches";

export type Key = Schemas["Key"];
export type Ease = Schemas["Ease"];

/** The ease of a new key. */
export const SMOOTH: Ease = {
  kind: "cubic-bezier",
  x1: 0.42,
  y1: 0,
  x2: 0.58,
  y2: 1,
  count: 3,
  jump: "end",
  stiffness: 200,
  damping: 16,
  rebound: 0.25,
  out: 0,
  back: 0,
};

export const keysOf = (shot: Shot, pointer: string): Key[] => shot.channels?.[pointer]?.keys ?? [];

export const channelAt = (pointer: string) => `/channels/${escaped(pointer)}`;

/** Set a value: where it has keys, the key at this frame; else the value itself. */
export function setValue(shot: Shot, pointer: string, value: number, frame: number): Operation[] {
  const keys = keysOf(shot, pointer);
  return keys.length ? setKey(shot, pointer, frame, value) : [{ op: "replace", path: pointer, value }];
}

/** Put a key with this value at a frame; a new one eases like the one before it. */
export function setKey(shot: Shot, pointer: string, frame: number, value: number): Operation[] {
  const keys = keysOf(shot, pointer);
  const at = channelAt(pointer);
  if (!keys.length) return [{ op: "add", path: at, value: { keys: [{ frame, value, ease: SMOOTH }] } }];
  const there = keys.findIndex((key) => key.frame === frame);
  if (there >= 0) return [{ op: "replace", path: `${at}/keys/${there}/value`, value }];
  const place = keys.filter((key) => key.frame < frame).length;
  const ease = keys[Math.max(0, place - 1)]?.ease ?? SMOOTH;
  return [{ op: "add", path: `${at}/keys/${place}`, value: { frame, value, ease } }];
}

/** Remove a key; with the last one the value stays where it is at that moment. */
export function removeKey(shot: Shot, pointer: string, frame: number): Operation[] {
  const keys = keysOf(shot, pointer);
  const index = keys.findIndex((key) => key.frame === frame);
  if (index < 0) return [];
  if (keys.length > 1) return [{ op: "remove", path: `${channelAt(pointer)}/keys/${index}` }];
  return [
    { op: "remove", path: channelAt(pointer) },
    { op: "replace", path: pointer, value: keys[0]!.value },
  ];
}

/** Write the keys of a channel anew (in order of frames; of two on one frame the later one wins). */
export function writeKeys(pointer: string, keys: Key[]): Operation[] {
  const byFrame = new Map(keys.map((key) => [key.frame, key]));
  const ordered = [...byFrame.values()].sort((a, b) => a.frame - b.frame);
  return [{ op: "replace", path: `${channelAt(pointer)}/keys`, value: ordered }];
}

/** Parts of a shot that say, by the pointer of a value, what moves it. */
export const MOVERS = ["channels", "changes", "drifts", "couplings"] as const;

/** Remove the keys of every value below an address, and whatever else moves it. */
export const removeKeysBelow = (shot: Shot, address: string): Operation[] =>
  MOVERS.flatMap((part) =>
    Object.keys(shot[part] ?? {})
      .filter((pointer) => pointer.startsWith(address))
      .map((pointer): Operation => ({ op: "remove", path: `/${part}/${escaped(pointer)}` })),
  );

/** Add an item at the end of a list; the core fills in what is not said. */
export const insertItem = (list: string, value: unknown): Operation[] => [
  { op: "add", path: `${list}/-`, value },
];

/** A name no thing has yet: `title`, `title-2`, … */
export function freeName(shot: Shot, stem: string): string {
  if (!shot.things?.[stem]) return stem;
  for (let n = 2; ; n++) if (!shot.things[`${stem}-${n}`]) return `${stem}-${n}`;
}

export const numberAt = (shot: Shot, pointer: string): number => Number(valueAt(shot, pointer) ?? 0);
