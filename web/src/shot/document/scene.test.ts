// @vitest-environment jsdom
import { expect, test } from "vitest";
import type { NamedArray } from "../../api/block";
import { Scene, isFloor, letterMatrix, type Letter } from "./scene";

type Facts = ConstructorParameters<typeof Scene>[0];

const FORM = {
  start: 4,
  bodies: ["S", "L"],
  pieces: [0, 1],
  shifts: [0, 0.25],
  sources: [0, 1],
  finishes: [0, 2],
};

function sceneOf(facts: Partial<Facts>, arrays: Record<string, [number[], number[]]> = {}): Scene {
  const named = Object.entries(arrays).map(([name, [shape, numbers]]): [string, NamedArray] => [
    name,
    { shape, data: new Float32Array(numbers) },
  ]);
  const whole = { frames: 10, first: 0, count: 10, run_end: 10, channels_first: 0, titles: {}, ...facts };
  return new Scene(whole as Facts, new Map(named));
}

test("a frame outside the shot is its first or last, one between two the nearest", () => {
  const scene = sceneOf({ frames: 10 });
  expect([-3, 0, 4.4, 4.6, 9, 40].map((frame) => scene.clamp(frame))).toEqual([0, 0, 4, 5, 9, 9]);
});

test("what stays as it is has one row for every frame", () => {
  const scene = sceneOf(
    {},
    {
      "camera/aim": [
        [1, 3],
        [1, 2, 3],
      ],
    },
  );
  for (const frame of [0, 5, 9]) expect(scene.triple("camera/aim", frame)).toEqual([1, 2, 3]);
});

test("a part of a long shot is read from where it begins", () => {
  const values = [20, 21, 22, 23];
  const scene = sceneOf({ frames: 500, first: 20, count: 4 }, { value: [[4, 1], values] });
  for (const frame of values) expect(scene.at("value", frame)[0]).toBe(frame);
  // Beyond what is here the nearest that is.
  expect(scene.at("value", 3)[0]).toBe(20);
  expect(scene.at("value", 400)[0]).toBe(23);
});

test("between two frames a value is on the straight way from one to the other", () => {
  const scene = sceneOf({}, { place: [[10, 2], Array.from({ length: 20 }, (_, i) => i * i)] });
  for (let step = 0; step <= 90; step++) {
    const time = step / 10;
    const [a, b] = [scene.at("place", Math.floor(time)), scene.at("place", Math.floor(time) + 1)];
    const share = time - Math.floor(time);
    const met = scene.between("place", time);
    for (const i of [0, 1]) expect(met[i]).toBeCloseTo(a[i]! * (1 - share) + b[i]! * share, 3);
  }
  expect(scene.between("place", 9.5)).toEqual(scene.at("place", 9));
});

test("a run of frames covers a frame with some of those that follow", () => {
  const scene = sceneOf({ frames: 1000, first: 100, count: 80, run_end: 1000 });
  expect(scene.covers(99)).toBe(false);
  expect(scene.covers(100)).toBe(true);
  expect(scene.covers(169)).toBe(true);
  expect(scene.covers(170)).toBe(false);
  // At the end of what there is nothing more is wanted.
  expect(sceneOf({ frames: 180, first: 100, count: 80, run_end: 180 }).covers(179)).toBe(true);
});

test("keyed values are known from their own first frame on", () => {
  const scene = sceneOf(
    { frames: 100, channels_first: 10 },
    { "channel/things/key/intensity": [[3], [5, 6, 7]] },
  );
  expect([0, 10, 11, 12, 60].map((frame) => scene.valueAt("/things/key/intensity", frame))).toEqual([
    5, 5, 6, 7, 7,
  ]);
  expect(scene.valueAt("/things/fill/intensity", 10)).toBeUndefined();
  expect(scene.channel("/things/fill/intensity")).toBeUndefined();
});

test("letters of a form are the same list as long as the form is", () => {
  const titles = {
    title: { forms: [FORM, { ...FORM, start: 6, bodies: ["A", "B"] }] },
  } as unknown as Facts["titles"];
  const scene = sceneOf(
    { titles },
    {
      "title/title/form": [
        [10, 1],
        [0, 0, 0, 1, 1, 1, 0, 0, 0, 9],
      ],
    },
  );
  expect(scene.letters("title", 0)).toBe(scene.letters("title", 2));
  expect(scene.letters("title", 0)).toBe(scene.letters("title", 7));
  expect(scene.letters("title", 3).map(({ body, index }) => [body, index])).toEqual([
    ["A", 6],
    ["B", 7],
  ]);
  // A number beyond the last form is the last one.
  expect(scene.letters("title", 9)).toBe(scene.letters("title", 4));
  expect(scene.letters("title", 0)[1]).toEqual({
    body: "L",
    piece: 1,
    shift: 0.25,
    source: 1,
    finish: 2,
    index: 5,
  });
});

test("a title of no form has no letters", () => {
  const titles = { title: { forms: [] } } as unknown as Facts["titles"];
  expect(sceneOf({ titles }, { "title/title/form": [[1, 1], [0]] }).letters("title", 0)).toEqual([]);
});

test("a letter that stands before its piece is moved along the piece's own depth", () => {
  const poses = new Float32Array(24);
  // A quarter about y, and two away: its depth points along x.
  poses.set([0, 0, 1, 2, 0, 1, 0, 0, -1, 0, 0, 0], 12);
  const letter = { piece: 1, shift: 0.5 } as Letter;
  expect([...letterMatrix(poses, letter)]).toEqual([0, 0, 1, 2.5, 0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 0, 1]);
  // What is written over keeps nothing of what it was.
  const into = new Float32Array(16).fill(9);
  expect([...letterMatrix(poses, letter, into)]).toEqual([...letterMatrix(poses, letter)]);
});

test("floors are told by their bodies", () => {
  const titles = {
    floor: { forms: [{ ...FORM, bodies: ["floor-1"] }] },
    title: { forms: [FORM] },
    none: { forms: [] },
  } as unknown as Facts["titles"];
  const scene = sceneOf({ titles });
  expect(["floor", "title", "none"].map((name) => isFloor(scene, name))).toEqual([true, false, false]);
});
