import { describe, expect, it } from "vitest";
import { lacking, nextOther, recent, shotFrame, stretchAt, type Stretch } from "./stretches";

const stretch = (first: number, last: number, shot: string, some: Partial<Stretch> = {}): Stretch => ({
  first,
  last,
  shot,
  frame: 0,
  speed: 1,
  gains: 0,
  transition: false,
  over: false,
  ...some,
});
const LIVE = [stretch(0, 9, "a"), stretch(10, 14, "a", { transition: true }), stretch(20, 29, "b")];

describe("stretches that are shown live", () => {
  it("are found by frame, with the shot's own frame", () => {
    expect(stretchAt(LIVE, 12)).toBe(LIVE[1]);
    expect(stretchAt(LIVE, 15)).toBeUndefined();
    expect(shotFrame(stretch(20, 29, "b", { frame: 4, speed: 2 }), 23)).toBe(10);
    expect(shotFrame(stretch(20, 29, "b", { frame: 2, speed: -1 }), 25)).toBe(0);
    expect(shotFrame(stretch(20, 29, "b", { frame: 4, speed: 1, gains: 50 }), 24)).toBe(12);
  });

  it("know which shot comes next", () => {
    expect(nextOther(LIVE, 3)?.shot).toBe("b");
    expect(nextOther(LIVE, 25)?.shot).toBe("a");
    expect(nextOther(LIVE.slice(0, 2), 3)).toBeUndefined();
  });

  it("hold the latest, and the same list where nothing changes", () => {
    expect(recent(["a", "b", "c"], ["d"], 3)).toEqual(["b", "c", "d"]);
    expect(recent(["a", "b", "c"], ["a", "d"], 3)).toEqual(["c", "a", "d"]);
    const held = ["a", "b"];
    expect(recent(held, ["a"], 3)).toBe(held);
  });

  it("say what they leave out", () => {
    expect(lacking(LIVE[0]!)).toBe("");
    expect(lacking(stretch(0, 1, "a", { transition: true, over: true }))).toBe(
      " without the transition and what lies above",
    );
  });
});
