// @vitest-environment jsdom
import { expect, test } from "vitest";
import { framesFrom } from "./ahead";

test("frames come in the order in which they are played, each once", () => {
  expect(framesFrom(3, 0, 5, 99)).toEqual([3, 4, 0, 1, 2]);
  expect(framesFrom(0, 0, 5, 3)).toEqual([0, 1, 2]);
});

test("a scene that is a part of its shot has frames of its own", () => {
  expect(framesFrom(12, 10, 4, 99)).toEqual([12, 13, 10, 11]);
  expect(framesFrom(2, 10, 4, 2)).toEqual([10, 11]);
  expect(framesFrom(99, 10, 4, 2)).toEqual([13, 10]);
});
