import { describe, expect, it } from "vitest";
import { nextMissing } from "./frames";

describe("the next frame that is not kept", () => {
  it("is looked for from where one is, then from the beginning", () => {
    const runs: [number, number][] = [
      [0, 4],
      [8, 9],
    ];
    expect(nextMissing(runs, 12, 0)).toBe(5);
    expect(nextMissing(runs, 12, 8)).toBe(10);
    expect(nextMissing([[5, 11]], 12, 6)).toBe(0);
    expect(nextMissing([[0, 11]], 12, 6)).toBeNull();
    expect(nextMissing([], 0, 0)).toBeNull();
  });
});
