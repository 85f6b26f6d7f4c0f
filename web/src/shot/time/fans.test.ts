import { expect, it } from "vitest";
import { spanned } from "./fans";

it("spreads letters by their delay, or keeps the whole to a length", () => {
  expect(spanned(24, false, 6)).toEqual({ name: "delay", value: 4 });
  expect(spanned(24, true, 6)).toEqual({ name: "total", value: 24 });
});

it("never lets them begin before the first, nor further apart than can be", () => {
  expect(spanned(-5, false, 6)).toEqual({ name: "delay", value: 0 });
  expect(spanned(1e6, false, 2)).toEqual({ name: "delay", value: 500 });
  expect(spanned(1e6, true, 2)).toEqual({ name: "total", value: 5000 });
  expect(spanned(10, false, 0)).toEqual({ name: "delay", value: 10 });
});
