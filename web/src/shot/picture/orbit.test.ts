import { expect, it } from "vitest";
import { dolly, orbit, truck } from "./orbit";
import type { CameraPose } from "./live/stage";

const pose: CameraPose = { position: [0, 0, 4], aim: [0, 0, 0] };
const far = (p: CameraPose) => Math.hypot(...p.position.map((x, i) => x - p.aim[i]!));

it("orbits at the same distance, a full turn coming back", () => {
  const quarter = orbit(pose, -90, 0);
  expect(quarter.position[0]).toBeCloseTo(4);
  expect(quarter.position[2]).toBeCloseTo(0);
  expect(far(orbit(pose, 33, 12))).toBeCloseTo(4);
  orbit(pose, 360, 0).position.forEach((x, i) => expect(x).toBeCloseTo(pose.position[i]!));
});

it("never goes over the pole", () => {
  expect(orbit(pose, 0, 500).position[1]).toBeLessThan(4);
  expect(orbit(pose, 0, 500).position[1]).toBeGreaterThan(3.9);
});

it("trucks camera and aim alike", () => {
  const moved = truck(pose, 1, 2);
  expect(moved.position).toEqual([1, 2, 4]);
  expect(moved.aim).toEqual([1, 2, 0]);
});

it("dollies along the line of sight, never through the aim", () => {
  expect(dolly(pose, 0.5).position).toEqual([0, 0, 2]);
  expect(far(dolly(pose, 1e-9))).toBeCloseTo(0.05);
});
