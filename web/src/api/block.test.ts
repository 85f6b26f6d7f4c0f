import { expect, it } from "vitest";
import { unpack } from "./block";

/** A block as the server writes it: header padded to a multiple of four, arrays end to end. */
function block(
  facts: object,
  arrays: Record<string, Float32Array | Uint32Array>,
  shapes: Record<string, number[]>,
): ArrayBuffer {
  let offset = 0;
  const places: Record<string, unknown> = {};
  for (const [name, data] of Object.entries(arrays)) {
    places[name] = { dtype: data instanceof Float32Array ? "f4" : "u4", shape: shapes[name], offset };
    offset += data.byteLength;
  }
  let header = JSON.stringify({ ...facts, arrays: places });
  header += " ".repeat((4 - (new TextEncoder().encode(header).length % 4)) % 4);
  const head = new TextEncoder().encode(header);
  const bytes = new Uint8Array(4 + head.length + offset);
  new DataView(bytes.buffer).setUint32(0, head.length, true);
  bytes.set(head, 4);
  let at = 4 + head.length;
  for (const data of Object.values(arrays)) {
    bytes.set(new Uint8Array(data.buffer), at);
    at += data.byteLength;
  }
  return bytes.buffer;
}

it("reads facts, floats, whole numbers and empty arrays", () => {
  const { facts, arrays } = unpack<{ revision: number; name: string }>(
    block(
      { revision: 7, name: "Orrisund ≈" },
      {
        a: new Float32Array([1.5, -2, 3, 4]),
        b: new Uint32Array([4_000_000_000]),
        none: new Float32Array(0),
      },
      { a: [2, 2], b: [1], none: [0, 3] },
    ),
  );
  expect(facts.revision).toBe(7);
  expect(facts.name).toBe("Orrisund ≈");
  expect(arrays.get("a")).toMatchObject({ shape: [2, 2] });
  expect([...arrays.get("a")!.data]).toEqual([1.5, -2, 3, 4]);
  expect(arrays.get("b")!.data[0]).toBe(4_000_000_000);
  expect(arrays.get("none")!.data).toHaveLength(0);
});

it("refuses what is too short to be one", () => {
  expect(() => unpack(new ArrayBuffer(2))).toThrow();
});
