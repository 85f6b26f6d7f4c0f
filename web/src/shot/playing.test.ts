import { expect, it } from "vitest";
import { framePlayed } from "./playing";

const once = { loop: false, toAndFro: false };
const again = { loop: true, toAndFro: false };
const back = { loop: true, toAndFro: true };

it("plays to the end and stops", () => {
  expect(framePlayed(3, 2, [0, 9], once)).toBe(5);
  expect(framePlayed(3, 6, [0, 9], once)).toBeNull();
});

it("begins again after the last frame of the range", () => {
  expect([0, 1, 2, 3, 4].map((gone) => framePlayed(4, gone, [4, 6], again))).toEqual([4, 5, 6, 4, 5]);
  expect(framePlayed(99, 0, [4, 6], again)).toBe(6);
});

it("goes back and forth, each end once", () => {
  expect([0, 1, 2, 3, 4, 5].map((gone) => framePlayed(4, gone, [4, 6], back))).toEqual([4, 5, 6, 5, 4, 5]);
  expect(framePlayed(4, 7, [4, 4], back)).toBe(4);
});
