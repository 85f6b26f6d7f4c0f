import { expect, it } from "vitest";
import type { Shot } from "../document/patches";
import { placesIn, snapped } from "./snapping";

const scale = { from: 0, to: 100, width: 424 }; // four pixels a frame

it("goes to what is near on the screen, else to the whole frame", () => {
  expect(snapped(scale, [40], 41.2)).toBe(40);
  expect(snapped(scale, [40, 42.5], 41.9)).toBe(42.5);
  expect(snapped(scale, [40], 43.4)).toBe(43);
  expect(snapped(scale, [], 7.6)).toBe(8);
  expect(snapped({ ...scale, to: 10 }, [40], 41)).toBe(41);
});

it("leaves out what is dragged itself", () => {
  const shot = {
    things: { a: { span: { whole: false, start: 5, end: 50 } }, b: { span: { whole: true } } },
    markers: [{ frame: 30 }],
    channels: {
      "/x": { keys: [{ frame: 12 }, { frame: 70 }] },
      "/things/a/place/x": { keys: [{ frame: 20 }] },
    },
  } as unknown as Shot;
  expect(placesIn(shot, 100, 44).sort((p, q) => p - q)).toEqual([0, 5, 12, 20, 30, 44, 50, 70, 100]);
  const left = { thing: "a", moving: (_: string, frame: number) => frame === 12 };
  expect(placesIn(shot, 100, 44, left).sort((p, q) => p - q)).toEqual([0, 30, 44, 70, 100]);
});
