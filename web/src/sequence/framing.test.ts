import { describe, expect, it } from "vitest";
import { cropOf, framed, panned } from "./framing";
import type { Sequence } from "./session";

const crop = { zoom: 1, x: 0.5, y: 0.5 };
const sequence = {
  crops: { a: { zoom: 2, x: 0.25, y: 0.5 } },
  versions: [{ name: "tall", crops: { b: { x: 0 } } }],
} as unknown as Sequence;

describe("framing by hand", () => {
  it("is that of the version, else that of the sequence, else none", () => {
    expect(cropOf(sequence, "", "a")).toEqual({ zoom: 2, x: 0.25, y: 0.5 });
    expect(cropOf(sequence, "tall", "a")?.zoom).toBe(2);
    expect(cropOf(sequence, "tall", "b")).toEqual({ zoom: 1, x: 0, y: 0.5 });
    expect(cropOf(sequence, "", "b")).toBeNull();
  });

  it("is set and taken away where it belongs", () => {
    expect(framed(sequence, "tall", "a", crop)[0]).toMatchObject({ path: "/versions/0/crops/a" });
    expect(framed(sequence, "", "a", null)).toEqual([{ op: "remove", path: "/crops/a" }]);
    expect(framed(sequence, "", "b", null)).toEqual([]);
  });

  it("follows the hand: what is dragged to the right shows more of the left", () => {
    // A 16:9 shot in a square: it is 16/9 as wide as what is seen, so there are 7/9 to go.
    const moved = panned(crop, [0.35, 0.5], 16 / 9, 1);
    expect(moved.x).toBeCloseTo(0.5 - 0.35 / (7 / 9), 9);
    // Nothing is cut off above and below.
    expect(moved.y).toBe(0.5);
    expect(panned(crop, [-9, 0], 16 / 9, 1).x).toBe(1);
  });
});
