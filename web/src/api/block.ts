/** Arrays in one piece: header length, header (JSON), arrays end to end. */

export interface NamedArray {
  shape: number[];
  data: Float32Array | Uint32Array;
}

export interface Block<Facts> {
  facts: Facts;
  arrays: Map<string, NamedArray>;
}

interface Place {
  dtype: "f4" | "u4";
  shape: number[];
  offset: number;
}

export function unpack<Facts>(buffer: ArrayBuffer): Block<Facts> {
  const length = new DataView(buffer).getUint32(0, true);
  const header = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, length))) as Facts & {
    arrays: Record<string, Place>;
  };
  const start = 4 + length;
  const arrays = new Map<string, NamedArray>();
  for (const [name, place] of Object.entries(header.arrays)) {
    const count = place.shape.reduce((a, b) => a * b, 1);
    const Kind = place.dtype === "f4" ? Float32Array : Uint32Array;
    arrays.set(name, { shape: place.shape, data: new Kind(buffer, start + place.offset, count) });
  }
  return { facts: header, arrays };
}
