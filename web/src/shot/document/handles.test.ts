import { expect, test } from "vitest";
import { handleAt, handlesOf, joined, putHandle } from "./handles";
import { SMOOTH, type Key } from "./values";
import { patched } from "./patches";
import type { Shot } from "./patches";

const AT = "/things/title/place/position";
const key = (frame: number, value: number, ease = SMOOTH): Key => ({ frame, value, ease });
const shotOf = (channels: Record<string, Key[]>) =>
  ({
    channels: Object.fromEntries(Object.entries(channels).map(([axis, keys]) => [`${AT}/${axis}`, { keys }])),
  }) as unknown as Shot;

test("handles of an ease are its corners, in the value's own unit", () => {
  const eased = { ...SMOOTH, y1: 0.5, y2: 2 };
  expect(handlesOf(key(0, 10, eased), key(10, 14))).toEqual({ x1: 0.42, x2: 0.58, out: 2, back: 4 });
  const linear = handlesOf(key(0, 1, { ...SMOOTH, kind: "linear" }), key(10, 4));
  expect(linear.out).toBeCloseTo(1);
  expect(linear.back).toBeCloseTo(-1);
});

test("a handle that is put is found there again, and bends a way between equal values", () => {
  const shot = shotOf({ x: [key(0, 0), key(20, 4)], y: [key(0, 1), key(20, 1)] });
  const after = patched(shot, putHandle(shot, AT, 0, "out", [1, 0.5, 9]));
  expect(handleAt(after, AT, 0, "out")).toEqual([1, 0.5, 0]);
  expect(after.channels![`${AT}/y`]!.keys[0]!.ease!.kind).toBe("handles");
  // The other end of the way keeps what it had.
  expect(after.channels![`${AT}/x`]!.keys[0]!.ease!.back).toBeCloseTo(0);
});

test("before the first key and after the last one there is none", () => {
  const shot = shotOf({ x: [key(0, 0), key(20, 4)] });
  expect(handleAt(shot, AT, 0, "back")).toBeNull();
  expect(handleAt(shot, AT, 20, "out")).toBeNull();
  expect(handleAt(shot, AT, 20, "back")![0]).toBeLessThan(0);
});

test("joined, the other handle points the other way and keeps its length", () => {
  const other = joined([3, 4, 0], [0, 0, 10]);
  expect(other[0]).toBeCloseTo(-6);
  expect(other[1]).toBeCloseTo(-8);
});
