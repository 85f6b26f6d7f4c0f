import { expect, it } from "vitest";
import { around, AXES, onPaper } from "./projection";

it("moves on paper what it says it moves in space", () => {
  const index = { x: 0, y: 1, z: 2 };
  for (const side of ["plan", "elevation"] as const) {
    AXES[side].forEach(([axis, sign], i) => {
      const before = onPaper(side, [0, 0, 0])[i]!;
      const point = [0, 0, 0];
      point[index[axis]] = sign * 2;
      expect(onPaper(side, point)[i]! - before).toBe(2);
    });
  }
});

it("frames every point in the paper's shape", () => {
  const extent = around(
    [
      [-3, 0],
      [5, 9],
    ],
    1.5,
  );
  expect(extent.width / extent.height).toBeCloseTo(1.5);
  expect(extent.x).toBeLessThan(-3);
  expect(extent.x + extent.width).toBeGreaterThan(5);
  expect(extent.y + extent.height).toBeGreaterThan(9);
});
