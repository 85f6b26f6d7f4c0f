import { expect, test } from "vitest";
import type { Shot } from "./document/patches";
import { hasPlace, isBodied, listed } from "./things";
import { addressOf } from "./view";

const shotOf = (things: object, more: object = {}) => ({ things, ...more }) as unknown as Shot;
const names = (shot: Shot) => listed(shot).map(({ name }) => name);

test("what every shot has comes after what stands in it", () => {
  expect(names(shotOf({}))).toEqual(["Camera", "Surroundings", "Backdrop", "Optics"]);
  const shot = shotOf(
    {
      pivot: { kind: "pivot", name: "Turntable" },
      key: { kind: "light", name: "Key" },
      floor: { kind: "floor", name: "Floor" },
      title: { kind: "title", name: "Opening", words: "EBB" },
    },
    { plate: { clip: "quay" }, sounds: { bell: { name: "Bell" } }, cameras: { low: { name: "Low" } } },
  );
  expect(names(shot)).toEqual([
    "Opening",
    "Floor",
    "Key",
    "Turntable",
    "Plate",
    "Camera",
    "Low",
    "Surroundings",
    "Backdrop",
    "Optics",
    "Bell",
  ]);
});

test("a title that nobody named is known by its words", () => {
  const title = (words: string) => names(shotOf({ title: { kind: "title", name: "Title", words } }))[0];
  expect(title("SLACK\n  WATER")).toBe("SLACK WATER");
  expect(title("   ")).toBe("Title");
  expect(title("a".repeat(90))).toHaveLength(40);
  expect(names(shotOf({ title: { kind: "title", name: "Part one", words: "EBB" } }))[0]).toBe("Part one");
});

test("things of one name are told apart", () => {
  const light = { kind: "light", name: "Light" };
  const shot = shotOf({ a: light, b: light, c: { kind: "light", name: "Light 2" }, d: light });
  expect(names(shot).slice(0, 4)).toEqual(["Light", "Light 2", "Light 2 2", "Light 3"]);
});

test("nothing that is listed shares its address or key with anything else", () => {
  const shot = shotOf(
    {
      "a/b": { kind: "title", name: "One" },
      a: { kind: "light", name: "Two" },
      camera: { kind: "mesh", name: "Three" },
    },
    { cameras: { camera: { name: "Four" } }, sounds: { camera: { name: "Five" } }, plate: { clip: "quay" } },
  );
  const all = listed(shot);
  expect(new Set(all.map(({ at }) => at)).size).toBe(all.length);
  expect(new Set(all.map(({ pointed }) => addressOf(pointed))).size).toBe(all.length);
  // A name with a slash is one step of an address.
  expect(all.find(({ name }) => name === "One")!.at).toBe("/things/a~1b");
});

test("things hang on bodies and pivots, not on lights or sounds", () => {
  for (const kind of ["title", "mark", "mesh", "sheet", "floor", "strand", "swarm"] as const) {
    expect(isBodied(kind)).toBe(true);
    expect(hasPlace(kind)).toBe(true);
  }
  expect(hasPlace("pivot")).toBe(true);
  expect(isBodied("pivot")).toBe(false);
  for (const kind of ["light", "sound", "camera", "plate", "optics"] as const)
    expect(hasPlace(kind)).toBe(false);
  expect(isBodied(undefined)).toBe(false);
});
