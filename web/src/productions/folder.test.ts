// @vitest-environment jsdom
import { describe, expect, it } from "vitest";
import { renamed, sorted } from "./folder";

const file = (path: string) => {
  const made = new File(["x"], path.split("/").pop()!);
  Object.defineProperty(made, "webkitRelativePath", { value: path });
  return made;
};

describe("a folder with shots", () => {
  it("is sorted into its library and its documents", () => {
    const { library, documents } = sorted(
      [
        "quay/b.json",
        "quay/a.json",
        "quay/library/plate-quay.clip",
        "quay/library/face.json",
        "quay/notes.txt",
        "quay/cut.edl",
        "quay/.hidden.json",
      ].map(file),
    );
    expect(library.map((one) => one.name)).toEqual(["plate-quay.clip"]);
    expect(documents.map((one) => one.name)).toEqual(["a.json", "b.json", "cut.edl"]);
  });

  it("has its files called as they are here", () => {
    const names = new Map([
      ["plate-quay.clip", "plate-12.clip"],
      ["face-1.font", "face-2.font"],
      ["same.png", "same.png"],
    ]);
    const text =
      '{"clip": "plate-quay.clip", "typeface": "face-1", "words": "plate-quay.clip is here", "a": "same.png"}';
    expect(renamed(text, names)).toBe(
      '{"clip": "plate-12.clip", "typeface": "face-2", "words": "plate-quay.clip is here", "a": "same.png"}',
    );
  });
});
