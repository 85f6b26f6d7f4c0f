import { expect, it } from "vitest";
import { markStep, toFrame, toX, zoomed } from "./scale";

const scale = { from: 0, to: 119, width: 800 };

it("maps frames to pixels and back", () => {
  for (const frame of [0, 1, 60.5, 119]) expect(toFrame(scale, toX(scale, frame))).toBeCloseTo(frame);
});

it("keeps the frame under the pointer while zooming, and stays within the shot", () => {
  const closer = zoomed(scale, 120, 30, 0.5);
  expect(toX(closer, 30)).toBeCloseTo(toX(scale, 30));
  expect(closer.to - closer.from).toBeCloseTo(59.5);
  const away = zoomed(closer, 120, 30, 100);
  expect([away.from, away.to]).toEqual([0, 119]);
});

it("marks whole seconds where frames are too close", () => {
  expect(markStep(scale, 25)).toBe(25);
  expect(markStep({ from: 0, to: 10, width: 800 }, 25)).toBe(2);
});
