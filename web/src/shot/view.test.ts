import { beforeEach, expect, test } from "vitest";
import { addressOf, point, pointLater, samePointed, toggleRow, useView, type Pointed } from "./view";

beforeEach(() => useView.setState({ pointed: "shot" }));

const now = () => useView.getState().pointed;

test("what is added is pointed at once it is there", () => {
  const pointAt = pointLater();
  expect(now()).toBe("shot");
  pointAt({ thing: "floor" });
  expect(now()).toEqual({ thing: "floor" });
});

test("what was pointed at in the meantime stays so", () => {
  const pointAt = pointLater();
  point({ thing: "title" });
  pointAt({ thing: "floor" });
  expect(now()).toEqual({ thing: "title" });
});

test("every part of a shot has an address of its own", () => {
  const parts: Pointed[] = [
    { thing: "title" },
    { thing: "title-2" },
    "sound:bell",
    "camera:low",
    "camera",
    "surroundings",
    "backdrop",
    "optics",
    "plate",
    "shot",
  ];
  expect(new Set(parts.map(addressOf)).size).toBe(parts.length);
  for (const a of parts) for (const b of parts) expect(samePointed(a, b)).toBe(a === b);
});

test("a letter's part is its thing", () => {
  expect(samePointed({ thing: "title", part: "face", source: 3 }, { thing: "title" })).toBe(true);
});

test("a row that is unfolded twice is as it was", () => {
  const before = useView.getState().unfolded;
  toggleRow("title");
  expect(useView.getState().unfolded.has("title")).toBe(!before.has("title"));
  toggleRow("title");
  expect(useView.getState().unfolded).toEqual(before);
});
