import { IconButton, Tooltip } from "@mui/material";
import { useEffect, useMemo, useRef, useState, type ReactNode } from "react";
import { Icon } from "../../parts/Icon";
import { useFormat, useShotState } from "../document/context";
import { cameraTold, lookedThrough } from "../document/cameras";
import { isFloor, type Scene } from "../document/scene";
import { isBodied, useListed } from "../things";
import { samePointed, useView } from "../view";
import { Footprints } from "./Footprints";
import { hull, place } from "./geometry";
import { Handle } from "./Handle";
import { MotionPath } from "./MotionPath";
import { Scopes } from "./Scopes";
import { LightSymbol } from "./LightSymbol";
import { letterBoxes } from "./letterBoxes";
import { around, onPaper, type Drawn, type Extent, type Side } from "./projection";
import "./plot.css";

/** A lighting plot: lights, letters, camera and its path, all to be dragged. */
export function Plot() {
  const scene = useShotState((s) => s.scene);
  const frame = useView((s) => s.frame);
  const pointed = useView((s) => s.pointed);
  const [side, setSide] = useState<Side>("plan");
  const [view, setView] = useState<Extent | null>(null);
  const [scopes, setScopes] = useState(false);
  const [fits, setFits] = useState(0);
  const [size, setSize] = useState({ width: 300, height: 300 });
  const paper = useRef<SVGSVGElement>(null);
  const pan = useRef<{ x: number; y: number; from: Extent } | null>(null);

  useEffect(() => {
    const observer = new ResizeObserver(([entry]) =>
      setSize({ width: entry!.contentRect.width || 1, height: entry!.contentRect.height || 1 }),
    );
    observer.observe(paper.current!);
    return () => observer.disconnect();
  }, []);

  const things = useListed();
  // Fitted anew when things come or go, never while one of them is dragged.
  const cast = `${side} ${size.width} ${size.height} ${things.map((thing) => thing.key).join(" ")} ${scene !== null} ${fits}`;
  const [fitted, setFitted] = useState<{ cast: string; extent: Extent } | null>(null);
  if (scene && fitted?.cast !== cast)
    setFitted({ cast, extent: around(everything(scene, side), size.width / size.height) });
  const shown =
    view && Math.abs(view.width / view.height - size.width / size.height) < 0.02 ? view : fitted?.extent;
  const pixel = shown ? shown.width / size.width : 0.01;

  function onWheel(event: React.WheelEvent<SVGSVGElement>) {
    if (!shown) return;
    const rect = event.currentTarget.getBoundingClientRect();
    const by = Math.exp(Math.max(-150, Math.min(150, event.deltaY)) * 0.0014);
    const [fx, fy] = [(event.clientX - rect.left) / rect.width, (event.clientY - rect.top) / rect.height];
    const width = Math.min(500, Math.max(0.5, shown.width * by));
    const height = (width / shown.width) * shown.height;
    setView({
      x: shown.x + fx * (shown.width - width),
      y: shown.y + fy * (shown.height - height),
      width,
      height,
    });
  }

  return (
    <section className="plot" aria-label="Plot">
      <Head
        side={scopes ? null : side}
        onSide={(name) => {
          setScopes(false);
          setSide(name);
          setView(null);
        }}
        onScopes={() => setScopes(true)}
        onFit={() => {
          setView(null);
          setFits(fits + 1);
        }}
      />
      {scopes && <Scopes />}
      <svg
        ref={paper}
        className="plot-paper"
        style={scopes ? { display: "none" } : undefined}
        viewBox={shown ? `${shown.x} ${shown.y} ${shown.width} ${shown.height}` : undefined}
        onWheel={onWheel}
        onPointerDown={(e) => {
          if (!shown) return;
          pan.current = { x: e.clientX, y: e.clientY, from: shown };
          e.currentTarget.setPointerCapture(e.pointerId);
        }}
        onPointerMove={(e) => {
          const p = pan.current;
          if (p)
            setView({
              ...p.from,
              x: p.from.x - (e.clientX - p.x) * pixel,
              y: p.from.y - (e.clientY - p.y) * pixel,
            });
        }}
        onPointerUp={() => (pan.current = null)}
      >
        {scene && shown && (
          <>
            <Grid extent={shown} pixel={pixel} />
            <Footprints side={side} pixel={pixel} />
            {things.map((thing) => (
              <Symbol
                key={thing.key}
                {...{ scene, frame, side, pixel, thing, chosen: samePointed(thing.pointed, pointed) }}
              />
            ))}
            {things
              .filter((thing) => samePointed(thing.pointed, pointed))
              .map((thing) => (
                <MotionPath key={thing.key} {...{ scene, thing, side, pixel }} />
              ))}
          </>
        )}
      </svg>
      <div className="plot-foot" />
    </section>
  );
}

/** Which side one looks from, or the scopes. */
function Head({
  side,
  onSide,
  onScopes,
  onFit,
}: {
  side: Side | null;
  onSide: (side: Side) => void;
  onScopes: () => void;
  onFit: () => void;
}) {
  return (
    <div className="plot-head">
      <div className="switch" role="group" aria-label="Side">
        {(["plan", "elevation"] as const).map((name) => (
          <button key={name} aria-pressed={side === name} onClick={() => onSide(name)}>
            {name === "plan" ? "Plan" : "Elevation"}
          </button>
        ))}
        <Tooltip title="What is in the picture: waveform, channels, histogram, vectorscope">
          <button aria-pressed={side === null} onClick={onScopes}>
            Scopes
          </button>
        </Tooltip>
      </div>
      <span className="grow" />
      <Tooltip title="Show everything">
        <IconButton aria-label="Show everything in the plot" onClick={onFit}>
          <Icon name="frame" size={16} />
        </IconButton>
      </Tooltip>
    </div>
  );
}

/** A thing as the plot draws it; floors, and what has no place, are not drawn. */
function Symbol(drawn: Drawn) {
  const format = useFormat();
  const { kind } = drawn.thing;
  if (kind === "pivot") return <PivotSymbol {...drawn} />;
  if (kind === "light") return <LightSymbol {...drawn} />;
  if (kind === "camera")
    return (
      <CameraSymbol
        {...drawn}
        rate={format.rate.num / format.rate.den}
        aspect={format.width / format.height}
      />
    );
  return isBodied(kind) && kind !== "floor" ? <TitleOutline {...drawn} /> : null;
}

function Grid({ extent, pixel }: { extent: Extent; pixel: number }) {
  const step = 10 ** Math.ceil(Math.log10(pixel * 14));
  const lines: ReactNode[] = [];
  for (let x = Math.ceil(extent.x / step) * step; x < extent.x + extent.width; x += step)
    lines.push(
      <line
        key={`x${x}`}
        className={Math.abs(x) < step / 2 ? "axis" : ""}
        x1={x}
        x2={x}
        y1={extent.y}
        y2={extent.y + extent.height}
        strokeWidth={pixel}
      />,
    );
  for (let y = Math.ceil(extent.y / step) * step; y < extent.y + extent.height; y += step)
    lines.push(
      <line
        key={`y${y}`}
        className={Math.abs(y) < step / 2 ? "axis" : ""}
        y1={y}
        y2={y}
        x1={extent.x}
        x2={extent.x + extent.width}
        strokeWidth={pixel}
      />,
    );
  return (
    <g className="plot-grid">
      {lines}
      <text x={extent.x + 8 * pixel} y={extent.y + extent.height - 8 * pixel} fontSize={11 * pixel}>
        {step < 1 ? `${Math.round(step * 100)} cm` : `${step} m`} a square
      </text>
    </g>
  );
}

function TitleOutline({ scene, frame, side, pixel, thing, chosen }: Drawn) {
  const id = typeof thing.pointed === "object" ? thing.pointed.thing : "";
  // Drawn again when bodies arrive that were lacking.
  useShotState((s) => s.arrived);
  if (!scene.has(`title/${id}/matrix`)) return null;
  const d = letterBoxes(scene, id, frame)
    .map((box) => hull(box.map((p) => onPaper(side, p))))
    .map((ring) => `M${ring.map((p) => p.join(" ")).join("L")}Z`)
    .join("");
  return (
    <Handle at={`${thing.at}/place/position`} thing={thing} label={`${thing.name}: place`} side={side}>
      <path className={`plot-letters${chosen ? " chosen" : ""}`} d={d} strokeWidth={pixel * 1.2} />
    </Handle>
  );
}

/** A cross in a ring, with its axes as far as they point across the paper. */
function PivotSymbol({ scene, frame, side, pixel, thing, chosen }: Drawn) {
  const name = `pivot/${thing.key}`;
  if (!scene.has(name)) return null;
  const matrix = scene.at(name, frame);
  const [x, y] = onPaper(side, place(matrix, [0, 0, 0]));
  const ends = (
    [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ] as [number, number, number][]
  ).map((axis) => onPaper(side, place(matrix, axis)));
  const reach = (end: [number, number]) => {
    const far = Math.max(Math.hypot(end[0] - x, end[1] - y), 1e-6);
    const long =
      pixel * 15 * Math.min(1, far / Math.max(...ends.map((e) => Math.hypot(e[0] - x, e[1] - y)), 1e-6));
    return `M${x} ${y}L${x + ((end[0] - x) / far) * long} ${y + ((end[1] - y) / far) * long}`;
  };
  return (
    <Handle at={`${thing.at}/place/position`} thing={thing} label={`${thing.name}: place`} side={side}>
      <g className={`plot-pivot${chosen ? " chosen" : ""}`}>
        <circle cx={x} cy={y} r={pixel * 5} strokeWidth={pixel * 1.3} />
        <path d={ends.map(reach).join("")} strokeWidth={pixel * 1.3} />
        <text x={x + pixel * 9} y={y - pixel * 8} fontSize={11 * pixel}>
          {thing.name}
        </text>
        <circle className="catch" cx={x} cy={y} r={pixel * 12} />
      </g>
    </Handle>
  );
}

function CameraSymbol({
  scene,
  frame,
  side,
  pixel,
  thing,
  chosen,
  rate,
  aspect,
}: Drawn & { rate: number; aspect: number }) {
  const through = useShotState(({ shot }) => lookedThrough(shot, frame) === thing.at);
  const told = cameraTold(scene, thing.at);
  const p = onPaper(side, scene.at(`${told}/position`, frame));
  const a = onPaper(side, scene.at(`${told}/aim`, frame));
  const far = Math.hypot(a[0] - p[0], a[1] - p[1]) || 1;
  const half =
    Math.tan((scene.at(`${told}/angle`, frame)[0]! * Math.PI) / 360) * (side === "plan" ? aspect : 1);
  const [ux, uy] = [(a[0] - p[0]) / far, (a[1] - p[1]) / far];
  const edge = (sign: number): [number, number] => [
    a[0] - uy * half * far * sign,
    a[1] + ux * half * far * sign,
  ];
  const path = useMemo(() => {
    const all = scene.all(`${told}/position`);
    const points: [number, number][] = [];
    for (let f = 0; f < all.length / 3; f++) points.push(onPaper(side, all.subarray(f * 3, f * 3 + 3)));
    return points;
  }, [scene, side, told]);
  const ticks = path.filter((_, f) => f % Math.max(1, Math.round(rate)) === 0);
  return (
    <g className={`plot-camera${chosen ? " chosen" : ""}${through ? "" : " resting"}`}>
      <path
        className="frustum"
        d={`M${p.join(" ")}L${edge(1).join(" ")}L${edge(-1).join(" ")}Z`}
        strokeWidth={pixel}
      />
      <path className="path" d={`M${path.map((q) => q.join(" ")).join("L")}`} strokeWidth={pixel * 1.5} />
      {ticks.map((q, i) => (
        <circle key={i} className="tick" cx={q[0]} cy={q[1]} r={pixel * 2} />
      ))}
      <Handle at={`${thing.at}/aim`} thing={thing} label={`${thing.name}: aim`} side={side}>
        <path
          className="aim"
          d={`M${a[0] - pixel * 4} ${a[1]}h${pixel * 8}M${a[0]} ${a[1] - pixel * 4}v${pixel * 8}`}
          strokeWidth={pixel * 1.3}
        />
        <circle className="catch" cx={a[0]} cy={a[1]} r={pixel * 8} />
      </Handle>
      <Handle at={`${thing.at}/position`} thing={thing} label={`${thing.name}: position`} side={side}>
        <g
          transform={`translate(${p[0]} ${p[1]}) rotate(${(Math.atan2(uy, ux) * 180) / Math.PI}) scale(${pixel * 10})`}
        >
          <path className="symbol" d="M-1 -.6H.3V.6H-1Z M.3 -.2L.9 -.5V.5L.3 .2" strokeWidth={0.14} />
        </g>
        <circle className="catch" cx={p[0]} cy={p[1]} r={pixel * 14} />
      </Handle>
    </g>
  );
}

/** Everything worth seeing at once. */
function everything(scene: Scene, side: Side): [number, number][] {
  const points: [number, number][] = [];
  const add = (array: Float32Array) => {
    for (let i = 0; i + 2 < array.length; i += 3) points.push(onPaper(side, array.subarray(i, i + 3)));
  };
  add(scene.all("camera/position"));
  for (const name of scene.names()) if (/^camera:.*\/position$/.test(name)) add(scene.all(name));
  for (const [light, kind] of Object.entries(scene.facts.lights)) {
    if (kind === "sun" || kind === "ambient") continue;
    add(scene.all(`light/${light}/position`));
    const matrix = scene.at(`light/${light}/matrix`, 0);
    for (const [x, y] of [
      [-1, -1],
      [1, -1],
      [1, 1],
      [-1, 1],
    ])
      points.push(onPaper(side, place(matrix, [x!, y!, 0])));
  }
  for (const title of Object.keys(scene.facts.titles))
    if (!isFloor(scene, title))
      for (const box of letterBoxes(scene, title, scene.facts.frames - 1))
        points.push(...box.map((p) => onPaper(side, p)));
  // A long shot has many camera points; extremes are all that counts.
  const most = 4000;
  return points.length > most ? points.filter((_, i) => i % Math.ceil(points.length / most) === 0) : points;
}
