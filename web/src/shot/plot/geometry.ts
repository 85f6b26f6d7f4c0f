/** Point of a row-major 4×4 matrix applied to a point. */
export function place(m: ArrayLike<number>, [x, y, z]: [number, number, number]): [number, number, number] {
  return [0, 1, 2].map((r) => m[r * 4]! * x + m[r * 4 + 1]! * y + m[r * 4 + 2]! * z + m[r * 4 + 3]!) as [
    number,
    number,
    number,
  ];
}

/** Convex hull of points (Andrew's monotone chain). */
export function hull(points: [number, number][]): [number, number][] {
  const sorted = [...points].sort((p, q) => p[0] - q[0] || p[1] - q[1]);
  const half = (from: [number, number][]) => {
    const chain: [number, number][] = [];
    for (const p of from) {
      while (chain.length > 1) {
        const [a, b] = [chain.at(-2)!, chain.at(-1)!];
        if ((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]) > 1e-9) break;
        chain.pop();
      }
      chain.push(p);
    }
    return chain.slice(0, -1);
  };
  return [...half(sorted), ...half(sorted.reverse())];
}

/** The two corners of a panel that its aim sees furthest apart. */
export function widest(
  ring: [number, number][],
  aim: [number, number],
  at: [number, number],
): [[number, number], [number, number]] | null {
  if (ring.length < 2) return null;
  const base = Math.atan2(at[1] - aim[1], at[0] - aim[0]);
  const turn = (p: [number, number]) => {
    const d = Math.atan2(p[1] - aim[1], p[0] - aim[0]) - base;
    return Math.atan2(Math.sin(d), Math.cos(d));
  };
  const ordered = [...ring].sort((p, q) => turn(p) - turn(q));
  return [ordered[0]!, ordered.at(-1)!];
}
