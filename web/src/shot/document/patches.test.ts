import { expect, it } from "vitest";
import { joined, patched, rebased, type Edit, type Operation, type Shot } from "./patches";

const shot = {
  name: "EBB",
  things: { key: { kind: "light", intensity: 1 } },
  channels: {},
} as unknown as Shot;
const replace = (path: string, value: unknown, gesture?: string): Edit => ({
  patch: [{ op: "replace", path, value }],
  gesture,
});

it("changes a copy", () => {
  const after = patched(shot, [{ op: "replace", path: "/name", value: "FLOOD" }]);
  expect(after.name).toBe("FLOOD");
  expect(shot.name).toBe("EBB");
  expect(() => patched(shot, [{ op: "replace", path: "/things/none/intensity", value: 1 }])).toThrow();
});

it("keeps what it does not touch the very same object", () => {
  const after = patched(shot, [{ op: "add", path: "/channels/~1name", value: { keys: [] } }]);
  expect(after.things).toBe(shot.things);
  expect(after.channels).toEqual({ "/name": { keys: [] } });
});

it("does what RFC 6902 says for lists, moves and copies", () => {
  const tree = { list: [1, 2, 3], a: { b: 1 } } as unknown as Shot;
  const after = (patch: unknown[]) => patched(tree, patch as Operation[]) as unknown;
  expect(after([{ op: "add", path: "/list/1", value: 9 }])).toEqual({ list: [1, 9, 2, 3], a: { b: 1 } });
  expect(after([{ op: "add", path: "/list/-", value: 9 }])).toEqual({ list: [1, 2, 3, 9], a: { b: 1 } });
  expect(after([{ op: "remove", path: "/list/0" }])).toEqual({ list: [2, 3], a: { b: 1 } });
  expect(after([{ op: "move", from: "/a/b", path: "/c" }])).toEqual({ list: [1, 2, 3], a: {}, c: 1 });
  expect(after([{ op: "copy", from: "/a", path: "/d" }])).toEqual({
    list: [1, 2, 3],
    a: { b: 1 },
    d: { b: 1 },
  });
  for (const bad of [
    { op: "add", path: "/list/7", value: 0 },
    { op: "remove", path: "/none" },
    { op: "replace", path: "/list/-", value: 0 },
    { op: "add", path: "/x/y", value: 0 },
  ])
    expect(() => after([bad])).toThrow();
});

it("joins values of one gesture, the later one winning, and nothing else", () => {
  const both = joined(replace("/name", "a", "g"), replace("/name", "b", "g"))!;
  expect(both.patch).toEqual([{ op: "replace", path: "/name", value: "b" }]);
  expect(joined(replace("/name", "a", "g"), replace("/name", "b", "h"))).toBeNull();
  expect(joined(replace("/name", "a"), replace("/name", "b"))).toBeNull();
  expect(
    joined({ patch: [{ op: "remove", path: "/things/key" }], gesture: "g" }, replace("/name", "b", "g")),
  ).toBeNull();
});

it("keeps waiting edits over somebody else's, and tells which cannot be kept", () => {
  const newer = patched(shot, [{ op: "remove", path: "/things/key" }]);
  const {
    shot: after,
    kept,
    lost,
  } = rebased(newer, [replace("/things/key/intensity", 3), replace("/name", "SLACK")]);
  expect(after.name).toBe("SLACK");
  expect(kept).toHaveLength(1);
  expect(lost).toHaveLength(1);
});
