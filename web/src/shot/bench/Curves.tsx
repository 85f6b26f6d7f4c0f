import { Tooltip } from "@mui/material";
import { useRef, useState, type PointerEvent } from "react";
import { useAt, useSession } from "../document/context";

type Point = [number, number];

const WIDE = 232;
const HIGH = 150;
const PAD = 8;
const NAMES = ["all", "red", "green", "blue", "saturation"] as const;
type Name = (typeof NAMES)[number];
const TELLS: Record<Name, string> = {
  all: "All three channels, dark on the left: middle grey lies at 0.41 of a logarithm (ACEScct)",
  red: "Red alone",
  green: "Green alone",
  blue: "Blue alone",
  saturation: "How saturated each hue is, from red through green and blue back to red; the middle leaves it",
};
const COLOURS: Record<Name, string> = {
  all: "#d8d6d0",
  red: "#d6604e",
  green: "#6fbf73",
  blue: "#6a93e0",
  saturation: "#d8d6d0",
};
const fresh = (name: Name): Point[] =>
  name === "saturation"
    ? [
        [0, 0.5],
        [1, 0.5],
      ]
    : [
        [0, 0],
        [1, 1],
      ];

/** Curves of the grade: drag points, double-click for a new one, Delete removes it. */
export function Curves({ at }: { at: string }) {
  const session = useSession();
  const [name, setName] = useState<Name>("all");
  const all = (useAt(at) ?? {}) as Partial<Record<Name, Point[]>>;
  const points = all[name] ?? fresh(name);
  const bent = NAMES.filter((one) => JSON.stringify(all[one] ?? fresh(one)) !== JSON.stringify(fresh(one)));
  const [chosen, setChosen] = useState<number | null>(null);
  const drag = useRef<{ index: number; id: string } | null>(null);
  const svg = useRef<SVGSVGElement>(null);
  const x = (across: number) => PAD + across * WIDE;
  const y = (up: number) => PAD + (1 - up) * HIGH;
  const put = (next: Point[], id?: string) =>
    session.edit([{ op: "replace", path: `${at}/${name}`, value: next }], id);

  function under(event: { clientX: number; clientY: number }): Point {
    const box = svg.current!.getBoundingClientRect();
    const scale = (WIDE + 2 * PAD) / box.width;
    const within = (v: number) => Math.min(1, Math.max(0, v));
    return [
      within(((event.clientX - box.left) * scale - PAD) / WIDE),
      within(1 - ((event.clientY - box.top) * scale - PAD) / HIGH),
    ];
  }
  /** A point stays between its neighbours: a curve never runs back. */
  function move(index: number, [across, up]: Point, id?: string) {
    const low = index ? points[index - 1]![0] + 0.004 : 0;
    const high = index < points.length - 1 ? points[index + 1]![0] - 0.004 : 1;
    const held: Point = [
      Number(Math.min(high, Math.max(low, across)).toFixed(4)),
      Number(Math.min(1, Math.max(0, up)).toFixed(4)),
    ];
    put(
      points.map((point, k) => (k === index ? held : point)),
      id,
    );
  }
  function add(event: React.MouseEvent) {
    if (points.length >= 24) return;
    const to = under(event);
    const index = points.findIndex(([across]) => across > to[0]);
    const place = index < 0 ? points.length : index;
    const near = [points[place - 1], points[place]].some((p) => p && Math.abs(p[0] - to[0]) < 0.01);
    if (near) return;
    put([
      ...points.slice(0, place),
      [Number(to[0].toFixed(4)), Number(to[1].toFixed(4))],
      ...points.slice(place),
    ]);
    setChosen(place);
  }
  return (
    <div className="drawn curves">
      <CurveNames
        name={name}
        bent={bent}
        onChoose={(one) => {
          setName(one);
          setChosen(null);
        }}
      />
      <svg
        ref={svg}
        viewBox={`0 0 ${WIDE + 2 * PAD} ${HIGH + 2 * PAD}`}
        role="group"
        aria-label={`Curve of ${name}`}
        onDoubleClick={add}
        onPointerMove={(e) => drag.current && move(drag.current.index, under(e), drag.current.id)}
        onPointerUp={() => (drag.current = null)}
      >
        <defs>
          <linearGradient id="hues">
            {[0, 1, 2, 3, 4, 5, 6].map((k) => (
              <stop key={k} offset={k / 6} stopColor={`hsl(${k * 60} 45% 38%)`} />
            ))}
          </linearGradient>
        </defs>
        <rect
          x={PAD}
          y={PAD}
          width={WIDE}
          height={HIGH}
          className="drawn-field"
          style={name === "saturation" ? { fill: "url(#hues)", fillOpacity: 0.45 } : undefined}
        />
        {name === "saturation" ? (
          <path className="curve-rest" d={`M${x(0)} ${y(0.5)}H${x(1)}`} />
        ) : (
          <path className="curve-rest" d={`M${x(0)} ${y(0)}L${x(1)} ${y(1)}M${x(0.4136)} ${y(0)}V${y(1)}`} />
        )}
        <path d={drawn(points, x, y)} className="curve-line" style={{ stroke: COLOURS[name] }} />
        {points.map((p, k) => (
          <CurvePoint
            key={k}
            place={[x(p[0]), y(p[1])]}
            point={p}
            number={k + 1}
            chosen={chosen === k}
            onChoose={() => setChosen(k)}
            onTake={(e) => {
              svg.current!.setPointerCapture(e.pointerId);
              drag.current = { index: k, id: crypto.randomUUID() };
            }}
            onMove={(to) => move(k, to)}
            onRemove={() => points.length > 2 && put(points.filter((_, i) => i !== k))}
          />
        ))}
      </svg>
      <p className="hint">
        Drag points, double-click for a new one, Delete removes it.
        {bent.includes(name) && (
          <button className="link" onClick={() => put(fresh(name))}>
            Straighten
          </button>
        )}
      </p>
    </div>
  );
}

function CurveNames({ name, bent, onChoose }: { name: Name; bent: Name[]; onChoose: (name: Name) => void }) {
  return (
    <div className="curve-names" role="radiogroup" aria-label="Curve">
      {NAMES.map((one) => (
        <Tooltip key={one} title={TELLS[one]}>
          <button
            role="radio"
            aria-checked={one === name}
            data-bent={bent.includes(one) || undefined}
            onClick={() => onChoose(one)}
          >
            {one === "saturation" ? "hues" : one}
          </button>
        </Tooltip>
      ))}
    </div>
  );
}

/** A point of a curve: taken by the mouse, moved by arrow keys. */
function CurvePoint({
  place: [cx, cy],
  point,
  number,
  chosen,
  onChoose,
  onTake,
  onMove,
  onRemove,
}: {
  place: Point;
  point: Point;
  number: number;
  chosen: boolean;
  onChoose: () => void;
  onTake: (event: PointerEvent) => void;
  onMove: (to: Point) => void;
  onRemove: () => void;
}) {
  return (
    <circle
      cx={cx}
      cy={cy}
      r={5}
      className={chosen ? "chosen" : undefined}
      role="button"
      tabIndex={0}
      aria-label={`Point ${number}: ${point[0].toFixed(3)} becomes ${point[1].toFixed(3)}`}
      data-arrows
      onFocus={onChoose}
      onPointerDown={(e) => {
        e.stopPropagation();
        onTake(e);
        onChoose();
      }}
      onKeyDown={(e) => {
        const step = e.shiftKey ? 0.05 : 0.005;
        const by: Record<string, Point> = {
          ArrowLeft: [-step, 0],
          ArrowRight: [step, 0],
          ArrowUp: [0, step],
          ArrowDown: [0, -step],
        };
        if (e.key === "Delete" || e.key === "Backspace") onRemove();
        else if (by[e.key]) onMove([point[0] + by[e.key]![0], point[1] + by[e.key]![1]]);
        else return;
        e.preventDefault();
        e.stopPropagation();
      }}
    />
  );
}

/** The curve as the core has it: monotone between its points, level beyond its ends. */
function drawn(points: Point[], x: (v: number) => number, y: (v: number) => number): string {
  const rise = points.slice(1).map((p, k) => (p[1] - points[k]![1]) / (p[0] - points[k]![0]));
  const slope = points.map((_, k) => {
    if (k === 0) return rise[0]!;
    if (k === points.length - 1) return rise[k - 1]!;
    const [a, b] = [rise[k - 1]!, rise[k]!];
    if (a * b <= 0) return 0;
    const [left, right] = [points[k]![0] - points[k - 1]![0], points[k + 1]![0] - points[k]![0]];
    const [before, after] = [right * 2 + left, right + left * 2];
    return (before + after) / (before / a + after / b);
  });
  let path = `M${x(0)} ${y(points[0]![1])}L${x(points[0]![0])} ${y(points[0]![1])}`;
  for (let k = 1; k < points.length; k++) {
    const [a, b] = [points[k - 1]!, points[k]!];
    const third = (b[0] - a[0]) / 3;
    path += `C${x(a[0] + third)} ${y(a[1] + slope[k - 1]! * third)} ${x(b[0] - third)} ${y(b[1] - slope[k]! * third)} ${x(b[0])} ${y(b[1])}`;
  }
  return `${path}L${x(1)} ${y(points.at(-1)![1])}`;
}
