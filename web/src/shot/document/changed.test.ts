// @vitest-environment jsdom
import { expect, it } from "vitest";
import { valueInfo } from "../../api/queries";
import { changed, differences } from "./changed";
import type { Shot } from "./patches";

const values = {
  title: [
    valueInfo({ pointer: "/body/depth", kind: "number", label: "depth" }),
    valueInfo({ pointer: "/place/position/x", kind: "number", label: "x", group: "place/position" }),
  ],
  camera: [valueInfo({ pointer: "/focal_length", kind: "number", label: "focal length" })],
};
const shot = (depth: number, more: object = {}) =>
  ({
    things: { title: { kind: "title", name: "EBB", body: { depth }, place: { position: { x: 0 } } } },
    camera: { focal_length: 45 },
    channels: {},
    ...more,
  }) as unknown as Shot;

it("finds what differs, lists as a whole, and nothing where nothing does", () => {
  expect(differences({ a: { "b/c": 1, d: [1, 2] } }, { a: { "b/c": 2, d: [1, 3] } })).toEqual([
    "/a/b~1c",
    "/a/d",
  ]);
  expect(differences(shot(1), shot(1))).toEqual([]);
  expect(differences({ a: 1 }, {})).toEqual(["/a"]);
});

it("says what was changed by its names", () => {
  expect(changed(shot(0.1), shot(0.2), values)).toBe("depth of EBB");
  expect(changed(shot(0.1), shot(0.1, { camera: { focal_length: 50 } }), values)).toBe(
    "focal length of Camera",
  );
  const keyed = { channels: { "/things/title/place/position/x": { keys: [] } } };
  expect(changed(shot(0.1), shot(0.1, keyed), values)).toBe("how position x of EBB moves");
  expect(changed(shot(0.1), { ...shot(0.1), things: {} } as Shot, values)).toBe("EBB");
  expect(changed(shot(0.1), shot(0.2, { camera: { focal_length: 50 }, ...keyed }), values)).toBe(
    "depth of EBB and 2 more",
  );
});
