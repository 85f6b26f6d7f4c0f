import { expect, it } from "vitest";
import { patched, type Shot } from "../document/patches";
import { markerAt } from "./markers";

it("sets markers in order, and removes the one that stands there", () => {
  let shot = { markers: [] } as unknown as Shot;
  for (const frame of [30, 10, 20]) shot = patched(shot, markerAt(shot, frame));
  expect(shot.markers!.map((marker) => marker.frame)).toEqual([10, 20, 30]);
  shot = patched(shot, markerAt(shot, 20));
  expect(shot.markers!.map((marker) => marker.frame)).toEqual([10, 30]);
});
