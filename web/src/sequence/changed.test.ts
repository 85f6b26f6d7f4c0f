import { expect, test } from "vitest";
import { changed } from "./changed";
import type { Sequence } from "./session";

const sequence = (some: object) => ({ name: "Opening", line: [], ...some }) as unknown as Sequence;

test("what undo takes back in a sequence is told in words", () => {
  const plain = sequence({});
  expect(changed(plain, plain)).toBe("");
  expect(changed(sequence({ loudness: -16 }), plain)).toBe("the loudness");
  expect(changed(sequence({ width: 100, height: 50 }), plain)).toBe("the size");
  expect(changed(sequence({ sounds: { b: { name: "Bell", gain: -3 } } }), plain)).toBe("the sound Bell");
  const both = sequence({ markers: [{ frame: 3 }], sounds: { b: { name: "Bell" }, w: { name: "Wind" } } });
  expect(changed(both, plain)).toBe("the markers and 2 more");
});

test("pieces are told apart by whether they come, go or change", () => {
  const [none, one, trimmed] = [[], [{ frames: 20 }], [{ frames: 12 }]].map((line) => sequence({ line }));
  expect(changed(one!, none!)).toBe("a piece put on the line");
  expect(changed(none!, one!)).toBe("a piece left out of the line");
  expect(changed(trimmed!, one!)).toBe("the pieces of the line");
});
