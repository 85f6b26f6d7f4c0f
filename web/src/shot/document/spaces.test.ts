import { expect, test } from "vitest";
import { patched, type Shot } from "./patches";
import type { Scene } from "./scene";
import { cameraOperations, wayInRoom, wayWithin, type Point } from "./spaces";
import { valueAt } from "./pointer";

/** Numbers that look like chance and are the same every time (Park and Miller). */
function* drawn(seed: number): Generator<number, never> {
  for (let state = seed; ;) {
    state = (state * 48271) % 2147483647;
    yield state / 2147483647;
  }
}

type Numbers = Record<string, number[]>;
const sceneOf = (arrays: Numbers) =>
  ({
    has: (name: string) => name in arrays,
    at: (name: string) => arrays[name]!,
    triple: (name: string) => arrays[name] ?? [0, 0, 0],
    valueAt: (pointer: string) => arrays[`channel${pointer}`]?.[0],
  }) as unknown as Scene;

/** Three rows of a matrix that can be undone: turned, stretched, moved. */
function matrixOf(next: () => number): number[] {
  const rows = Array.from({ length: 12 }, () => next() * 2 - 1);
  for (const diagonal of [0, 5, 10]) rows[diagonal]! += 3;
  return rows;
}

test("a way told by what it hangs on is in the room what it was", () => {
  const chance = drawn(7);
  const next = () => chance.next().value;
  for (let trial = 0; trial < 200; trial++) {
    const scene = sceneOf({ "space/lamp": matrixOf(next) });
    const way: Point = [next() * 9 - 4, next() * 9 - 4, next() * 9 - 4];
    const back = wayInRoom(scene, "lamp", 0, wayWithin(scene, "lamp", 0, way));
    way.forEach((value, i) => expect(back[i]).toBeCloseTo(value, 9));
  }
});

test("what hangs on nothing has the room's ways", () => {
  const way: Point = [1, 2, 3];
  expect(wayWithin(sceneOf({}), "lamp", 0, way)).toBe(way);
  expect(wayInRoom(sceneOf({}), "lamp", 0, way)).toBe(way);
});

const shotOf = (camera: object, more: object = {}) =>
  ({ camera, channels: {}, things: {}, ...more }) as unknown as Shot;
const at = (x: number, y: number, z: number) => ({ x, y, z });
const put = (shot: Shot, scene: Scene, position: Point, aim: Point) =>
  patched(shot, cameraOperations(shot, scene, { position, aim }, 0, "/camera"));

test("a free camera is put where it is asked to stand", () => {
  const shot = shotOf({ rig: "free", position: at(0, 0, 5), aim: at(0, 0, 0) });
  const after = put(shot, sceneOf({ "camera/aim": [0, 0, 0] }), [1, 2, 3], [0.5, 0, 0]);
  expect(valueAt(after, "/camera/position")).toEqual(at(1, 2, 3));
  expect(valueAt(after, "/camera/aim")).toEqual(at(0.5, 0, 0));
});

test("a camera that hangs on something moved is told in that one's own measure", () => {
  const shot = shotOf({ rig: "free", position: at(0, 0, 5), aim: at(0, 0, 0) });
  // Twice as large, and ten to the right.
  const space = [2, 0, 0, 10, 0, 2, 0, 0, 0, 0, 2, 0];
  const scene = sceneOf({ "camera/aim": [0, 0, 0], "space/camera": space });
  const after = put(shot, scene, [12, 4, 6], [10, 0, 0]);
  expect(valueAt(after, "/camera/position")).toEqual(at(1, 2, 3));
  expect(valueAt(after, "/camera/aim")).toEqual(at(0, 0, 0));
});

test("a camera that follows a thing keeps how far beside it it aims", () => {
  const shot = shotOf(
    { rig: "free", aim_at: "title", position: at(0, 0, 5), aim: at(0, 0, 0) },
    { things: { title: { kind: "title" } } },
  );
  const scene = sceneOf({ "camera/aim": [4, 1, 0], "camera/followed": [4, 1, 0] });
  const after = put(shot, scene, [4, 1, 5], [4.5, 1, 0]);
  expect(valueAt(after, "/camera/aim")).toEqual(at(0.5, 0, 0));
});

test("an orbit is told by angles, and stands where they say", () => {
  const chance = drawn(11);
  const next = () => chance.next().value;
  const shot = shotOf({ rig: "orbit", azimuth: 0, elevation: 0, distance: 5, aim: at(0, 0, 0) });
  for (let trial = 0; trial < 100; trial++) {
    const position: Point = [next() * 8 - 4, next() * 8 - 4, next() * 8 - 4];
    const camera = put(shot, sceneOf({ "camera/aim": [0, 0, 0] }), position, [0, 0, 0]).camera as unknown as {
      azimuth: number;
      elevation: number;
      distance: number;
    };
    const [a, e] = [camera.azimuth, camera.elevation].map((degrees) => (degrees * Math.PI) / 180) as [
      number,
      number,
    ];
    const stands = [Math.sin(a) * Math.cos(e), Math.sin(e), Math.cos(a) * Math.cos(e)].map(
      (v) => v * camera.distance,
    );
    position.forEach((value, i) => expect(stands[i]).toBeCloseTo(value, 2));
  }
});

test("an orbit that has gone round twice goes on from there", () => {
  const shot = shotOf({ rig: "orbit", azimuth: 725, elevation: 0, distance: 5, aim: at(0, 0, 0) });
  const after = put(shot, sceneOf({ "camera/aim": [0, 0, 0] }), [0, 0, 5], [0, 0, 0]);
  expect(valueAt(after, "/camera/azimuth")).toBeCloseTo(720);
});

test("straight above an orbit stops short of turning over", () => {
  const shot = shotOf({ rig: "orbit", azimuth: 0, elevation: 0, distance: 5, aim: at(0, 0, 0) });
  const after = put(shot, sceneOf({ "camera/aim": [0, 0, 0] }), [0, 7, 0], [0, 0, 0]);
  expect(valueAt(after, "/camera/elevation")).toBe(89.9);
});
