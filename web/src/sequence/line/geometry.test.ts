// @vitest-environment jsdom
import { describe, expect, it } from "vitest";
import { patched } from "../../shot/document/patches";
import { startsOf, type Sequence } from "../session";
import {
  begun,
  course,
  dropIndex,
  moved,
  rolled,
  slipped,
  snapped,
  split,
  trimmedEnd,
  trimmedStart,
  type Piece,
} from "./geometry";

const piece = (frames: number, skip = 0, over = 0): Piece =>
  ({
    kind: "shot",
    shot: "a",
    frames,
    skip,
    speed: 1,
    transition: { kind: over ? "dissolve" : "cut", frames: over },
  }) as Piece;
const sequence = (...line: Piece[]) => ({ name: "x", line }) as unknown as Sequence;

describe("gestures on the line", () => {
  it("trims the beginning and shows a later frame of the shot, never before its first", () => {
    const of = sequence(piece(20, 4));
    const at = (by: number) => patched(of, trimmedStart(of.line![0]!, "/line/0", by)).line![0]!;
    expect([at(5).frames, at(5).skip]).toEqual([15, 9]);
    expect([at(-9).frames, at(-9).skip]).toEqual([24, 0]);
    expect(at(99).frames).toBe(1);
  });

  it("moves a cut and leaves all that comes after where it is", () => {
    const of = sequence(piece(20, 4), piece(20, 5, 4), piece(20, 0, 6));
    const at = (by: number) => patched(of, rolled(of, 0, by));
    const moved = at(6);
    expect([moved.line![0]!.frames, moved.line![1]!.frames, moved.line![1]!.skip]).toEqual([26, 14, 11]);
    expect(startsOf(moved)[2]).toBe(startsOf(of)[2]);
    // Not before the first frame of the next shot, nor into the frames that transitions need.
    expect(at(-99).line![1]!.skip).toBe(0);
    expect(at(99).line![1]!.frames).toBe(10);
    expect(rolled(of, 2, 5)).toEqual([]);
  });

  it("leaves transitions the frames they need", () => {
    const of = sequence(piece(20, 0), piece(20, 0, 8), piece(20, 0, 6));
    expect(trimmedEnd(of.line![1]!, "/line/1", -50, 6)).toEqual([
      { op: "replace", path: "/line/1/frames", value: 14 },
    ]);
    expect(patched(of, trimmedStart(of.line![1]!, "/line/1", 50)).line![1]!.frames).toBe(9);
  });

  it("slips the shot beneath the piece", () => {
    expect(slipped(piece(20, 4), "/line/0", -3)).toEqual([{ op: "replace", path: "/line/0/skip", value: 7 }]);
    expect(slipped(piece(20, 4), "/line/0", 30)).toEqual([{ op: "replace", path: "/line/0/skip", value: 0 }]);
  });

  it("splits so that nothing seen changes", () => {
    const of = sequence(piece(20, 4), piece(10, 0, 5));
    const made = patched(of, split(of, 0, 8)).line!;
    expect(made.map((one) => [one.frames, one.skip])).toEqual([
      [8, 4],
      [12, 12],
      [10, 0],
    ]);
    expect(startsOf({ ...of, line: made }).at(-1)).toBe(startsOf(of).at(-1));
    expect(split(of, 0, 17)).toEqual([]);
    expect(split(of, 1, 3)).toEqual([]);
  });

  it("drops a piece where it is let go", () => {
    const of = sequence(piece(10), piece(10), piece(10));
    const starts = startsOf(of);
    expect([2, 8, 16, 29].map((frame) => dropIndex(of, starts, 0, frame))).toEqual([0, 0, 1, 2]);
    expect(moved(0, 2)).toEqual([{ op: "move", from: "/line/0", path: "/line/2" }]);
    expect(moved(1, 1)).toEqual([]);
  });

  it("snaps to what is near", () => {
    expect([snapped(11, [0, 10, 20], 2), snapped(14, [0, 10, 20], 2)]).toEqual([10, 14]);
  });
});

describe("a ramp of speed", () => {
  const ramp = { kind: "shot", shot: "s", frames: 40, skip: 10, speed: 1, gains: 5 } as Piece;

  it("runs on as it did where its beginning is moved", () => {
    const later = { ...ramp, ...begun(ramp, 12), frames: 28 };
    for (const index of [0, 7, 27]) expect(course(later, index)).toBeCloseTo(course(ramp, index + 12), 9);
    const patch = trimmedStart(ramp, "/line/0", 12);
    expect(patch.map(({ path }) => path)).toEqual(["/line/0/frames", "/line/0/skip", "/line/0/speed"]);
    expect(patch[2]).toMatchObject({ value: 1.6 });
  });
});
