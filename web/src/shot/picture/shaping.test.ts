// @vitest-environment jsdom
import { Matrix4, Vector3 } from "three";
import { expect, test } from "vitest";
import { patched, type Shot } from "../document/patches";
import { valueAt } from "../document/pointer";
import { useView, type View } from "../view";
import { cursorFor, shapingAt } from "./shaping";
import type { Grip, Hit } from "./live/picking";
import type { LiveStage } from "./live/stage";

const HEIGHT = 500;
/** Seen straight on: a metre is a quarter of the picture's height, and depth has no length in it. */
const stage = {
  seen: { slope: (_: Grip, [x, y]: [number, number, number]) => [x / 4, -y / 4] },
  metresPerHeight: () => 4,
} as unknown as LiveStage;
/** The same from the side: depth runs to the right. */
const aside = {
  seen: { slope: (_: Grip, [, y, z]: [number, number, number]) => [-z / 4, -y / 4] },
  metresPerHeight: () => 4,
} as unknown as LiveStage;

const title = {
  kind: "title",
  words: "EBB",
  body: { depth: 0.2, direction: "back", front: { reach: 0.02 }, back: { reach: 0.01 } },
  setting: { poses: {} },
};
const shot = { things: { title, floor: { kind: "floor" } }, channels: {} } as unknown as Shot;
const view = (more: Partial<View> = {}): View => ({
  ...useView.getState(),
  pointed: { thing: "title" },
  single: "title",
  ...more,
});
const grip = (facing: [number, number, number], z = 0.1): Grip => ({
  matrix: new Matrix4(),
  at: new Vector3(0, 0, z),
  facing,
});
const hit = (part: string, thing = "title"): Hit => ({ thing, part, source: 1 });
const begun = (
  part: string,
  facing: [number, number, number],
  on = stage,
  more: Partial<View> = {},
  z = 0.1,
) => shapingAt(on, shot, view(more), { hit: hit(part), grip: grip(facing, z) }, HEIGHT, { fresh: true });
const after = (shaping: ReturnType<typeof begun>, dx: number, dy: number) =>
  patched(shot, shaping!(dx, dy, 0, shot));

test("what is not pointed at is not shaped: a drag turns the view", () => {
  expect(begun("bevel", [1, 0, 0.5], stage, { pointed: "camera" })).toBeNull();
  expect(begun("bevel", [1, 0, 0.5], stage, { pointed: { thing: "floor" } })).toBeNull();
  expect(begun("face", [0, 0, 1])).toBeNull();
  expect(
    shapingAt(stage, shot, view(), { hit: hit("wall", "floor"), grip: grip([0, 1, 0]) }, HEIGHT, {}),
  ).toBeNull();
});

test("the edge follows the pointer: inward it reaches farther", () => {
  // An edge that faces right: a metre is 125 pixels, and inward is to the left.
  const shaping = begun("bevel", [1, 0, 0.5]);
  expect(valueAt(after(shaping, -12.5, 0), "/things/title/body/front/reach")).toBeCloseTo(0.12, 4);
  expect(valueAt(after(shaping, 1.25, 0), "/things/title/body/front/reach")).toBeCloseTo(0.01, 4);
  // It does not turn over.
  expect(valueAt(after(shaping, 500, 0), "/things/title/body/front/reach")).toBe(0);
  // Along the edge nothing happens.
  expect(valueAt(after(shaping, 0, 40), "/things/title/body/front/reach")).toBeCloseTo(0.02, 4);
});

test("behind, it is the back edge that is shaped", () => {
  const shaping = begun("bevel", [1, 0, -0.5], stage, {}, 0.1);
  expect(valueAt(after(shaping, -12.5, 0), "/things/title/body/back/reach")).toBeCloseTo(0.11, 4);
});

test("the wall gives depth along itself, and upward where it is seen end on", () => {
  // Depth grows backward, which is to the right here.
  expect(valueAt(after(begun("wall", [0, 1, 0], aside), 12.5, 0), "/things/title/body/depth")).toBeCloseTo(
    0.3,
    4,
  );
  // End on: a picture's height is four metres, up is more.
  expect(valueAt(after(begun("wall", [0, 1, 0]), 0, -25), "/things/title/body/depth")).toBeCloseTo(0.4, 4);
  expect(valueAt(after(begun("wall", [0, 1, 0]), 0, 400), "/things/title/body/depth")).toBe(0.001);
  expect(valueAt(after(begun("wall", [0, 1, 0]), 0, -9999), "/things/title/body/depth")).toBe(5);
});

test("a letter that is singled out is moved with the pointer, from a pose made for it", () => {
  const shaping = begun("face", [0, 0, 1], stage, { single: "letter" })!;
  const first = shaping(12.5, -25, 0, shot);
  expect(first).toHaveLength(1);
  expect(first[0]).toMatchObject({ op: "add", value: { fresh: true, move: { x: 0.1, y: 0.2, z: 0 } } });
  // What follows moves the same pose.
  const moved = patched(shot, first);
  const then = patched(moved, shaping(25, 0, 0, moved));
  expect(valueAt(then, `${first[0]!.path}/move/x`)).toBeCloseTo(0.2);
  expect(valueAt(then, `${first[0]!.path}/move/y`)).toBeCloseTo(0);
});

test("the pointer's shape tells what a drag would do", () => {
  const over = (part: string, more: Partial<View> = {}) => cursorFor(shot, view(more), hit(part));
  expect(over("bevel")).toBe("ew-resize");
  expect(over("wall")).toBe("nesw-resize");
  expect(over("face")).toBe("");
  expect(over("face", { single: "word" })).toBe("move");
  expect(over("wall", { pointed: "camera" })).toBe("");
  expect(cursorFor(shot, view(), null)).toBe("");
});
