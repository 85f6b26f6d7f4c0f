import { expect, test } from "vitest";
import { patched, type Shot } from "./patches";
import { retyped } from "./retype";

const pose = { scale: 2 };
const shot = {
  things: {
    title: {
      kind: "title",
      words: "SLACK WATER",
      ranges: [{ start: 6, end: 11, size: 2 }],
      setting: { gaps: { "6": { value: 40 } }, poses: { "letter-7": pose, "word-1": pose, "line-0": pose } },
    },
  },
  channels: {
    "/things/title/setting/poses/letter-7/scale": { keys: [1] },
    "/things/title/place/scale": { keys: [2] },
  },
} as unknown as Shot;

interface Shown {
  words: string;
  ranges: { start: number; end: number }[];
  setting: { gaps: object; poses: object };
}

function after(words: string, from: Shot = shot): { title: Shown; channels: string[] } {
  const next = patched(from, retyped(from, "/things/title", words));
  return { title: next.things!.title as unknown as Shown, channels: Object.keys(next.channels!) };
}
const covered = ({ words, ranges }: Shown) => [...words].slice(ranges[0]!.start, ranges[0]!.end).join("");

test("words typed before move everything along", () => {
  const { title, channels } = after("THE SLACK WATER");
  expect(covered(title)).toBe("WATER");
  expect(title.setting).toEqual({
    gaps: { "10": { value: 40 } },
    poses: { "letter-11": pose, "word-2": pose, "line-0": pose },
  });
  expect(channels).toEqual(["/things/title/place/scale", "/things/title/setting/poses/letter-11/scale"]);
});

test("words typed after change nothing but the words", () => {
  expect(retyped(shot, "/things/title", "SLACK WATER FIRST")).toEqual([
    { op: "replace", path: "/things/title/words", value: "SLACK WATER FIRST" },
  ]);
});

test("a range grows and shrinks with what is typed in it", () => {
  expect(covered(after("SLACK WAITER").title)).toBe("WAITER");
  expect(covered(after("SLACK WER").title)).toBe("WER");
  expect(covered(after("SLACK TIDES").title)).toBe("TIDES");
});

test("what is deleted loses what it had, the rest keeps it", () => {
  const { title, channels } = after("SLACK WTER");
  expect(title.setting.poses).toEqual({ "word-1": pose, "line-0": pose });
  expect(title.setting.gaps).toEqual({ "6": { value: 40 } });
  expect(channels).toEqual(["/things/title/place/scale"]);
});

test("typing goes on letter by letter", () => {
  let now = shot;
  for (const words of ["SLACK WATERS", "SLACK WATERS ", "LACK WATERS ", "T LACK WATERS "])
    now = patched(now, retyped(now, "/things/title", words));
  expect(covered(now.things!.title as unknown as Shown)).toBe("WATER");
});
