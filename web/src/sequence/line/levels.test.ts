import { describe, expect, it } from "vitest";
import { levelAt, movedLevel, toGain, toY, withLevel } from "./levels";

const levels = [
  { frame: 10, gain: 0 },
  { frame: 20, gain: -12 },
];

describe("levels of a sound", () => {
  it("go evenly between two and stay before and after", () => {
    expect([0, 10, 15, 20, 99].map((frame) => levelAt(levels, frame))).toEqual([0, 0, -6, -12, -12]);
    expect(levelAt([], 5)).toBe(0);
  });

  it("are drawn where they are meant", () => {
    for (const gain of [12, 0, -6.5, -30]) expect(toGain(toY(gain))).toBeCloseTo(gain, 6);
    expect(toGain(1000)).toBe(-60);
    expect(toGain(-1000)).toBe(12);
  });

  it("stand in order, one a frame, and do not pass each other", () => {
    expect(withLevel(levels, 15, -3).map((one) => one.frame)).toEqual([10, 15, 20]);
    expect(withLevel(levels, 20, -3)).toEqual([levels[0], { frame: 20, gain: -3 }]);
    expect(movedLevel(levels, 0, 50, 1)[0]).toEqual({ frame: 19.5, gain: 1 });
    expect(movedLevel(levels, 1, 0, 1)[1]).toEqual({ frame: 10.5, gain: 1 });
  });
});
