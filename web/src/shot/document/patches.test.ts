import { expect, it } from "vitest";
import { joined, patched, rebased, type Edit, type Shot } from "./patches";

const shot = { name: "EBB", things: { key: { kind: "light", intensity: 1 } }, channels: {} } as unknown as Shot;
const replace = (path: string, value: unknown, gesture?: string): Edit => ({ patch: [{ op: "replace", path, value }], gesture });

it("changes a copy", () => {
  const after = patched(shot, [{ op: "replace", path: "/name", value: "FLOOD" }]);
  expect(after.name).toBe("FLOOD");
  expect(shot.name).toBe("EBB");
  expect(() => patched(shot, [{ op: "replace", path: "/things/none/intensity", value: 1 }])).toThrow();
});

it("joins values of one gesture, the later one winning, and nothing else", () => {
  const both = joined(replace("/name", "a", "g"), replace("/name", "b", "g"))!;
  expect(both.patch).toEqual([{ op: "replace", path: "/name", value: "b" }]);
  expect(joined(replace("/name", "a", "g"), replace("/name", "b", "h"))).toBeNull();
  expect(joined(replace("/name", "a"), replace("/name", "b"))).toBeNull();
  expect(joined({ patch: [{ op: "remove", path: "/things/key" }], gesture: "g" }, replace("/name", "b", "g"))).toBeNull();
});

it("keeps waiting edits over somebody else's, and tells which cannot be kept", () => {
  const newer = patched(shot, [{ op: "remove", path: "/things/key" }]);
  const { shot: after, kept, lost } = rebased(newer, [replace("/things/key/intensity", 3), replace("/name", "SLACK")]);
  expect(after.name).toBe("SLACK");
  expect(kept).toHaveLength(1);
  expect(lost).toHaveLength(1);
});
