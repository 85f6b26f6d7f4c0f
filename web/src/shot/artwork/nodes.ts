/** Outlines as points with handles: what the drawing surface edits, and path data in and out. */

export type Point = [x: number, y: number];
export type NodeKind = "corner" | "smooth" | "symmetric";

export interface Node {
  at: Point;
  /** Handles before and after the point; null where the side is straight. */
  before: Point | null;
  after: Point | null;
  kind: NodeKind;
}

export interface Contour {
  nodes: Node[];
  closed: boolean;
}

const same = (a: Point, b: Point) => Math.hypot(a[0] - b[0], a[1] - b[1]) < 1e-6;

/** Contours of path data made of M, L, C and Z. */
export function contoursOf(data: string): Contour[] {
  const contours: Contour[] = [];
  for (const [, command, rest] of data.matchAll(/([MLCZ])([^MLCZ]*)/g)) {
    const v = (rest!.match(/-?(?:\d+\.?\d*|\.\d+)(?:e-?\d+)?/gi) ?? []).map(Number);
    const now = contours.at(-1);
    if (command === "M") contours.push({ nodes: [corner([v[0]!, v[1]!])], closed: false });
    else if (!now) continue;
    else if (command === "Z") now.closed = true;
    else if (command === "L")
      for (let i = 0; i + 1 < v.length; i += 2) now.nodes.push(corner([v[i]!, v[i + 1]!]));
    else
      for (let i = 0; i + 5 < v.length; i += 6) {
        now.nodes.at(-1)!.after = [v[i]!, v[i + 1]!];
        now.nodes.push({ ...corner([v[i + 4]!, v[i + 5]!]), before: [v[i + 2]!, v[i + 3]!] });
      }
  }
  for (const contour of contours) {
    const [first, last] = [contour.nodes[0]!, contour.nodes.at(-1)!];
    if (contour.closed && contour.nodes.length > 1 && same(first.at, last.at)) {
      first.before = last.before;
      contour.nodes.pop();
    }
    for (const node of contour.nodes) node.kind = kindOf(node);
  }
  return contours;
}

const corner = (at: Point): Node => ({ at, before: null, after: null, kind: "corner" });

function kindOf({ at, before, after }: Node): NodeKind {
  if (!before || !after) return "corner";
  const [bx, by, ax, ay] = [before[0] - at[0], before[1] - at[1], after[0] - at[0], after[1] - at[1]];
  const [b, a] = [Math.hypot(bx, by), Math.hypot(ax, ay)];
  if (b < 1e-9 || a < 1e-9 || (bx * ax + by * ay) / (a * b) > -0.9995) return "corner";
  return Math.abs(a - b) < 0.01 * (a + b) ? "symmetric" : "smooth";
}

/** Path data; outer contours run one way, those inside them the other, so that they are holes. */
export function dataOf(contours: Contour[]): string {
  const whole = contours.filter((c) => c.closed && c.nodes.length > 1);
  const rings = whole.map(flat);
  return whole
    .map((contour, i) => {
      const depth = rings.filter((ring, k) => k !== i && inside(rings[i]![0]!, ring)).length;
      const outward = area(rings[i]!) > 0;
      return (depth % 2 === 0) === outward ? contour : reversed(contour);
    })
    .map(({ nodes }) => {
      const steps = nodes.map((node, i) => step(node, nodes[(i + 1) % nodes.length]!));
      return `M${pair(nodes[0]!.at)}${steps.join("")}Z`;
    })
    .join("");
}

/**
 * Path data of an open line (or of a ring, where it is closed): its first contour, running as it was drawn.
 */
export function lineOf([contour]: Contour[]): string {
  if (!contour || contour.nodes.length < 2) return "";
  const { nodes, closed } = contour;
  const steps = nodes
    .slice(0, closed ? undefined : -1)
    .map((node, i) => step(node, nodes[(i + 1) % nodes.length]!));
  return `M${pair(nodes[0]!.at)}${steps.join("")}${closed ? "Z" : ""}`;
}

function step(node: Node, next: Node): string {
  if (!node.after && !next.before) return `L${pair(next.at)}`;
  return `C${pair(node.after ?? node.at)} ${pair(next.before ?? next.at)} ${pair(next.at)}`;
}

const short = (v: number) => String(Number(v.toFixed(5)));
const pair = (p: Point) => `${short(p[0])} ${short(p[1])}`;

function reversed({ nodes, closed }: Contour): Contour {
  return { closed, nodes: nodes.map((n) => ({ ...n, before: n.after, after: n.before })).reverse() };
}

/** A polygon that follows a contour closely enough to ask what lies inside it. */
export function flat({ nodes }: Contour): Point[] {
  return nodes.flatMap((node, i) => {
    const next = nodes[(i + 1) % nodes.length]!;
    if (!node.after && !next.before) return [node.at];
    return [0, 0.25, 0.5, 0.75].map((t) => curveAt(node, next, t));
  });
}

export function curveAt(a: Node, b: Node, t: number): Point {
  const u = 1 - t;
  const [p, q] = [a.after ?? a.at, b.before ?? b.at];
  return [0, 1].map(
    (k) => u ** 3 * a.at[k]! + 3 * u * u * t * p[k]! + 3 * u * t * t * q[k]! + t ** 3 * b.at[k]!,
  ) as Point;
}

const area = (ring: Point[]) =>
  ring.reduce(
    (sum, p, i) => sum + p[0] * ring[(i + 1) % ring.length]![1] - p[1] * ring[(i + 1) % ring.length]![0],
    0,
  ) / 2;

function inside([x, y]: Point, ring: Point[]): boolean {
  let within = false;
  ring.forEach(([ax, ay], i) => {
    const [bx, by] = ring[(i + 1) % ring.length]!;
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) within = !within;
  });
  return within;
}

/** Move a handle; the other one follows as the kind of the point asks. */
export function withHandle(node: Node, side: "before" | "after", to: Point): Node {
  const other = side === "before" ? "after" : "before";
  const moved = { ...node, [side]: to };
  if (node.kind === "corner") return moved;
  const [dx, dy] = [node.at[0] - to[0], node.at[1] - to[1]];
  const length = Math.hypot(dx, dy) || 1;
  const far =
    node.kind === "symmetric" || !node[other]
      ? length
      : Math.hypot(node[other]![0] - node.at[0], node[other]![1] - node.at[1]);
  moved[other] = [node.at[0] + (dx / length) * far, node.at[1] + (dy / length) * far];
  return moved;
}

/** A point of another kind; smooth ones get handles along the line of their neighbours. */
export function ofKind(node: Node, kind: NodeKind, previous: Point, next: Point): Node {
  if (kind === "corner") return { ...node, kind };
  const [dx, dy] = [next[0] - previous[0], next[1] - previous[1]];
  const length = Math.hypot(dx, dy) || 1;
  const reach = (to: Point) => Math.hypot(to[0] - node.at[0], to[1] - node.at[1]) / 3;
  const [b, a] =
    kind === "symmetric"
      ? [Math.min(reach(previous), reach(next)), Math.min(reach(previous), reach(next))]
      : [reach(previous), reach(next)];
  return {
    ...node,
    kind,
    before: [node.at[0] - (dx / length) * b, node.at[1] - (dy / length) * b],
    after: [node.at[0] + (dx / length) * a, node.at[1] + (dy / length) * a],
  };
}

export function shifted(node: Node, dx: number, dy: number): Node {
  const by = (p: Point | null): Point | null => p && [p[0] + dx, p[1] + dy];
  return { ...node, at: by(node.at)!, before: by(node.before), after: by(node.after) };
}

/** A contour seen in a mirror at x = 0. */
export function mirrored({ nodes, closed }: Contour): Contour {
  const flip = (p: Point | null): Point | null => p && [-p[0], p[1]];
  return {
    closed,
    nodes: nodes.map((n) => ({ ...n, at: flip(n.at)!, before: flip(n.before), after: flip(n.after) })),
  };
}

/** A point put into the side after a node, where the side stays as it is (de Casteljau). */
export function inserted(a: Node, b: Node, t: number): [Node, Node, Node] {
  const between = (p: Point, q: Point): Point => [p[0] + (q[0] - p[0]) * t, p[1] + (q[1] - p[1]) * t];
  if (!a.after && !b.before) return [a, corner(between(a.at, b.at)), b];
  const [p0, p1, p2, p3] = [a.at, a.after ?? a.at, b.before ?? b.at, b.at];
  const [q0, q1, q2] = [between(p0, p1), between(p1, p2), between(p2, p3)];
  const [r0, r1] = [between(q0, q1), between(q1, q2)];
  return [
    { ...a, after: q0 },
    { at: between(r0, r1), before: r0, after: r1, kind: "smooth" },
    { ...b, before: q2 },
  ];
}
