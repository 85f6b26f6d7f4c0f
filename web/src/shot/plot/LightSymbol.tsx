import { useShot } from "../document/context";
import type { LightKind } from "../document/scene";
import { numberAt } from "../document/values";
import { hull, place, widest } from "./geometry";
import { Handle } from "./Handle";
import { onPaper, type Drawn } from "./projection";

/** A light: its trade symbol, its throw or cone, its aim. */
export function LightSymbol({ scene, frame, side, pixel, thing, chosen }: Drawn) {
  const id = typeof thing.pointed === "object" ? thing.pointed.thing : "";
  const shot = useShot();
  const lit = scene.has(`light/${id}/matrix`);
  const from = (part: "position" | "aim") =>
    lit
      ? scene.at(`light/${id}/${part}`, frame)
      : (["x", "y", "z"] as const).map((axis) => numberAt(shot, `${thing.at}/${part}/${axis}`));
  const kind = scene.facts.lights[id] ?? "panel";
  const [p, a] = [onPaper(side, from("position")), onPaper(side, from("aim"))];
  const flat = kind === "panel" || kind === "disc" || kind === "spot";
  const corners =
    lit && flat
      ? [
          [-1, -1],
          [1, -1],
          [1, 1],
          [-1, 1],
        ].map(([x, y]) => onPaper(side, place(scene.at(`light/${id}/matrix`, frame), [x!, y!, 0])))
      : [];
  const ring = hull(corners);
  const spread =
    lit && kind === "spot"
      ? coneEdges(p, a, Math.acos(scene.at(`light/${id}/cone`, frame)[0]!))
      : widest(ring, a, p);
  const angle = Math.atan2(a[1] - p[1], a[0] - p[0]);
  const k = pixel * 9;
  return (
    <g className={`plot-light${chosen ? " chosen" : ""}${lit ? "" : " off"}`}>
      {lit && spread && (
        <path
          className="throw"
          strokeWidth={pixel}
          d={
            kind === "spot"
              ? `M${spread[0].join(" ")}L${p.join(" ")}L${spread[1].join(" ")}`
              : `M${spread[0].join(" ")}L${a.join(" ")}L${spread[1].join(" ")}`
          }
        />
      )}
      {lit && kind === "sun" && <path className="throw" d={parallel(p, a, pixel * 14)} strokeWidth={pixel} />}
      {lit && kind === "point" && (
        <circle
          className="throw"
          cx={p[0]}
          cy={p[1]}
          r={Math.hypot(a[0] - p[0], a[1] - p[1])}
          fill="none"
          strokeWidth={pixel}
        />
      )}
      {ring.length > 2 && (
        <path className="panel" d={`M${ring.map((q) => q.join(" ")).join("L")}Z`} strokeWidth={pixel * 2} />
      )}
      <Handle at={`${thing.at}/aim`} thing={thing} label={`${thing.name}: aim`} side={side}>
        <circle className="aim" cx={a[0]} cy={a[1]} r={pixel * 3.5} strokeWidth={pixel} />
        <circle className="catch" cx={a[0]} cy={a[1]} r={pixel * 9} />
      </Handle>
      <Handle at={`${thing.at}/position`} thing={thing} label={`${thing.name}: position`} side={side}>
        <g transform={`translate(${p[0]} ${p[1]}) rotate(${(angle * 180) / Math.PI}) scale(${k})`}>
          <path className="symbol" d={SYMBOLS[kind]} strokeWidth={0.15} />
        </g>
        <circle className="catch" cx={p[0]} cy={p[1]} r={pixel * 13} />
        <text x={p[0]} y={p[1] - pixel * 15} fontSize={pixel * 11} textAnchor="middle">
          {thing.name}
        </text>
      </Handle>
    </g>
  );
}

/** Light symbols of a plot, facing along +x. */
const SYMBOLS: Record<LightKind, string> = {
  panel: "M.6 -.9V.9L-.5 .55V-.55Z M-.5 -.3H-.95V.3H-.5",
  disc: "M.5 -.9C.9 -.4 .9 .4 .5 .9L-.5 .5V-.5Z M-.5 -.3H-.95V.3H-.5",
  spot: "M.8 -.6V.6L-.7 .42V-.42Z M-.7 -.25H-1V.25H-.7 M.8 -.6L1 -.8M.8 .6L1 .8",
  point: "M.6 0A.6 .6 0 1 1 -.6 0A.6 .6 0 1 1 .6 0Z",
  sun: "M.5 0A.5 .5 0 1 1 -.5 0A.5 .5 0 1 1 .5 0Z M.75 0H1.1M-.75 0H-1.1M0 .75V1.1M0 -.75V-1.1M.53 .53L.78 .78M-.53 -.53L-.78 -.78M-.53 .53L-.78 .78M.53 -.53L.78 -.78",
  ambient: "M.9 0A.9 .9 0 1 1 -.9 0A.9 .9 0 1 1 .9 0Z M.45 0A.45 .45 0 1 1 -.45 0A.45 .45 0 1 1 .45 0Z",
};

/** Where the edges of a cone end, as far away as its aim. */
function coneEdges(
  p: [number, number],
  a: [number, number],
  half: number,
): [[number, number], [number, number]] {
  const [dx, dy] = [a[0] - p[0], a[1] - p[1]];
  const edge = (angle: number): [number, number] => [
    p[0] + dx * Math.cos(angle) - dy * Math.sin(angle),
    p[1] + dx * Math.sin(angle) + dy * Math.cos(angle),
  ];
  return [edge(half), edge(-half)];
}

/** Three parallel rays from a place towards its aim. */
function parallel(p: [number, number], a: [number, number], apart: number): string {
  const length = Math.hypot(a[0] - p[0], a[1] - p[1]) || 1;
  const [nx, ny] = [(-(a[1] - p[1]) / length) * apart, ((a[0] - p[0]) / length) * apart];
  return [-1, 0, 1]
    .map((k) => `M${p[0] + nx * k} ${p[1] + ny * k}L${a[0] + nx * k} ${a[1] + ny * k}`)
    .join("");
}
