// @vitest-environment jsdom
import { beforeEach, expect, it } from "vitest";
import { remember, remembered, within } from "./usePane";

beforeEach(() => localStorage.clear());

it("keeps panes between their limits", () => {
  expect(within(9000, 240, 520)).toBe(520);
  expect(within(10, 240, 520)).toBe(240);
  expect(within(306, 240, 520)).toBe(306);
});

it("remembers how a pane was left, within the limits of today", () => {
  expect(remembered("bench", 306, 240, 520)).toBe(306);
  remember("bench", 333.4);
  expect(remembered("bench", 306, 240, 520)).toBe(333);
  expect(remembered("bench", 306, 400, 520)).toBe(400);
  expect(remembered("plot", 200, 100, 300)).toBe(200);
});

it("begins anew where what was remembered is no number", () => {
  localStorage.setItem("dreizack.pane.plot", "wide");
  expect(remembered("plot", 200, 100, 300)).toBe(200);
});
