import type { Operation, Shot } from "./patches";
import { setKey } from "./values";

/** A change of a value while recording: a key at the present frame, where it may have one. */
export function recorded(
  shot: Shot,
  operation: Operation,
  { frame, may }: { frame: () => number; may: (pointer: string) => boolean },
): Operation[] {
  const { op, path, value } = operation;
  if (op !== "replace" || typeof value !== "number" || !may(path)) return [operation];
  return setKey(shot, path, frame(), value);
}
