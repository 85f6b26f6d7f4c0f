import { expect, test } from "vitest";
import { across } from "./across";

/** A pinhole camera at the origin that looks along -z. */
const pinhole = ([x, y, z]: [number, number, number]): [number, number] | null =>
  z < 0 ? [0.5 - x / z, 0.5 + y / z] : null;

test("a drag across the picture moves a thing as far as it is away", () => {
  const from: [number, number, number] = [0.4, -0.2, -5];
  const by: [number, number] = [0.06, -0.04];
  const way = across(pinhole, from, by)!;
  const [a, b] = [pinhole(from)!, pinhole(from.map((v, k) => v + way[k]!) as [number, number, number])!];
  expect(b[0] - a[0]).toBeCloseTo(by[0], 2);
  expect(b[1] - a[1]).toBeCloseTo(by[1], 2);
  // Hardly nearer or farther.
  expect(Math.abs(way[2])).toBeLessThan(0.1 * Math.hypot(way[0], way[1]));
});

test("what is behind the camera goes nowhere", () => {
  expect(across(pinhole, [0, 0, 5], [0.1, 0])).toBeNull();
});
