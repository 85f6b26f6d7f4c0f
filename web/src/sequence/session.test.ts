import { describe, expect, it } from "vitest";
import { startsOf, totalOf, type Sequence } from "./session";

const piece = (frames: number, kind: "cut" | "dissolve" = "cut", over = 0) => ({
  kind: "shot" as const,
  shot: "a",
  frames,
  transition: { kind, frames: over },
});

describe("a sequence laid out", () => {
  const sequence = {
    name: "Opening",
    line: [piece(40), piece(30, "dissolve", 12), piece(10, "cut", 5)],
    lanes: [
      { name: "Names", on: true, pieces: [{ at: 60, piece: piece(25) }] },
      { name: "Off", on: false, pieces: [{ at: 500, piece: piece(25) }] },
    ],
  } as unknown as Sequence;

  it("lets pieces begin where their transitions begin, and cuts have no length", () => {
    expect(startsOf(sequence)).toEqual([0, 28, 58]);
  });

  it("is as long as whatever ends last, of lanes that are seen", () => {
    expect(totalOf(sequence, startsOf(sequence))).toBe(85);
    expect(totalOf({ ...sequence, lanes: [] }, startsOf(sequence))).toBe(68);
  });
});
