import { expect, test } from "vitest";
import {
  contoursOf,
  curveAt,
  dataOf,
  flat,
  inserted,
  lineOf,
  mirrored,
  ofKind,
  withHandle,
  type Node,
  type Point,
} from "./nodes";

const SQUARE = "M0 0L1 0L1 1L0 1Z";

test("path data comes back as it was", () => {
  expect(dataOf(contoursOf(SQUARE))).toBe("M0 0L1 0L1 1L0 1L0 0Z");
  const curved = "M0 0C0.2 -0.1 0.8 -0.1 1 0L0.5 1L0 0Z";
  expect(contoursOf(dataOf(contoursOf(curved)))).toEqual(contoursOf(curved));
});

test("a line is written as it was drawn, open or closed", () => {
  const wave = "M-1 0C-0.5 0.4 0.5 0.4 1 0L2 1";
  expect(lineOf(contoursOf(wave))).toBe(wave);
  expect(lineOf(contoursOf("M0 0L0 1L1 1Z"))).toBe("M0 0L0 1L1 1L0 0Z");
  expect(lineOf(contoursOf("M0 0"))).toBe("");
});

test("contours inside others are turned into holes", () => {
  const both = dataOf(contoursOf(`${SQUARE}M0.2 0.2L0.8 0.2L0.8 0.8L0.2 0.8Z`));
  expect(both).toBe("M0 0L1 0L1 1L0 1L0 0ZM0.2 0.8L0.8 0.8L0.8 0.2L0.2 0.2L0.2 0.8Z");
});

test("kinds of points are seen from their handles", () => {
  const [contour] = contoursOf("M0 0C0 1 1 1 2 1C3 1 4 1 4 0C4 -1 3 -2 2 -2C1 -2 0 -1 0 0Z");
  expect(contour!.nodes.map((n) => n.kind)).toEqual(["symmetric", "symmetric", "symmetric", "symmetric"]);
  expect(contoursOf(SQUARE)[0]!.nodes.every((n) => n.kind === "corner")).toBe(true);
});

test("handles of smooth points stay in line", () => {
  const node: Node = { at: [0, 0], before: [-1, 0], after: [2, 0], kind: "smooth" };
  const moved = withHandle(node, "before", [0, -3]);
  expect(moved.after).toEqual([0, 2]);
  expect(withHandle({ ...node, kind: "symmetric" }, "before", [0, -3]).after).toEqual([0, 3]);
  expect(withHandle({ ...node, kind: "corner" }, "before", [0, -3]).after).toEqual([2, 0]);
  expect(
    ofKind({ at: [0, 0], before: null, after: null, kind: "corner" }, "symmetric", [-3, 0], [6, 0]),
  ).toMatchObject({ before: [-1, 0], after: [1, 0] });
});

test("a point put into a side leaves it as it was", () => {
  const [a, b] = contoursOf("M0 0C0 1 1 2 3 0Z")[0]!.nodes as [Node, Node];
  const [p, m, q] = inserted(a, b, 0.4);
  for (const t of [0.1, 0.5, 0.9]) {
    const [x, y] = curveAt(p, m, t);
    const [tx, ty] = curveAt(a, b, t * 0.4);
    expect(Math.hypot(x - tx, y - ty)).toBeLessThan(1e-12);
    const [u, v] = curveAt(m, q, t);
    const [tu, tv] = curveAt(a, b, 0.4 + t * 0.6);
    expect(Math.hypot(u - tu, v - tv)).toBeLessThan(1e-12);
  }
});

test("a mirrored contour encloses as much", () => {
  const [contour] = contoursOf("M0 0L2 0L2 1Z");
  const size = (ring: Point[]) =>
    Math.abs(
      ring.reduce(
        (s, p, i) => s + p[0] * ring[(i + 1) % ring.length]![1] - p[1] * ring[(i + 1) % ring.length]![0],
        0,
      ) / 2,
    );
  expect(size(flat(mirrored(contour!)))).toBe(size(flat(contour!)));
});
