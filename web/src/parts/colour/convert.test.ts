import { expect, it } from "vitest";
import { fromHex, toHex } from "./convert";

it("knows the standard's corners and its middle grey", () => {
  expect(fromHex("#ffffff")).toEqual({ r: 1, g: 1, b: 1 });
  expect(fromHex("000")).toEqual({ r: 0, g: 0, b: 0 });
  expect(fromHex("#808080")!.r).toBeCloseTo(0.21586, 4);
});

it("comes back to the same code for every code", () => {
  for (let i = 0; i < 256; i++) {
    const hex = `#${i.toString(16).padStart(2, "0")}80ff`;
    expect(toHex(fromHex(hex)!)).toBe(hex);
  }
});

it("refuses what is no colour", () => {
  for (const text of ["", "#12", "#12345", "#gggggg", "brass"]) expect(fromHex(text)).toBeNull();
});
