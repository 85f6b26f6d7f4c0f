import { expect, it } from "vitest";
import type { Shot } from "./patches";
import { recorded } from "./recording";

const shot = { channels: {}, things: { title: { place: { scale: 1 } } } } as unknown as Shot;
const at = { frame: () => 7, may: (pointer: string) => pointer.endsWith("/scale") };

it("turns a change of a value into a key, and leaves all else alone", () => {
  const [key] = recorded(shot, { op: "replace", path: "/things/title/place/scale", value: 2 }, at);
  expect(key).toMatchObject({ op: "add", value: { keys: [{ frame: 7, value: 2 }] } });
  for (const other of [
    { op: "replace", path: "/name", value: "EBB" },
    { op: "replace", path: "/things/title/seed", value: 3 },
    { op: "add", path: "/things/title/place/scale", value: 2 },
  ] as const)
    expect(recorded(shot, other, at)).toEqual([other]);
});
