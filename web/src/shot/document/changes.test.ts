import { expect, it } from "vitest";
import { changeAt, setTold, toldAt, unchangeAt } from "./changes";
import { patched, type Shot } from "./patches";

const empty = { things: { lamp: { on: true } }, changes: {} } as unknown as Shot;
const ON = "/things/lamp/on";

it("is as from the last change on, and before the first as from that", () => {
  let shot = patched(empty, changeAt(empty, ON, true, 10));
  shot = patched(shot, setTold(shot, ON, false, 20));
  expect([0, 10, 19, 20, 90].map((frame) => toldAt(shot, ON, frame))).toEqual([
    true,
    true,
    true,
    false,
    false,
  ]);
  shot = patched(shot, setTold(shot, ON, true, 20));
  expect(shot.changes![ON]!.keys).toHaveLength(2);
});

it("is set once and for all where it does not change", () => {
  expect(setTold(empty, ON, false, 7)).toEqual([{ op: "replace", path: ON, value: false }]);
});

it("stays as it is when the last change is removed", () => {
  let shot = patched(empty, changeAt(empty, ON, false, 10));
  shot = patched(shot, unchangeAt(shot, ON, 10));
  expect(shot.changes).toEqual({});
  expect(toldAt(shot, ON, 0)).toBe(false);
});
