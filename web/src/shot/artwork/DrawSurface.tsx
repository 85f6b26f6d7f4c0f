import { Button } from "@mui/material";
import { useEffect, useMemo, useRef, useState, type PointerEvent } from "react";
import { useAt, useSession } from "../document/context";
import { look } from "../view";
import {
  contoursOf,
  curveAt,
  dataOf,
  inserted,
  lineOf,
  mirrored,
  ofKind,
  shifted,
  withHandle,
  type Contour,
  type NodeKind,
  type Point,
} from "./nodes";

interface Chosen {
  contour: number;
  node: number;
}

type Drag = { kind: "node" | "before" | "after"; chosen: Chosen; id: string } | null;

const KINDS: NodeKind[] = ["corner", "smooth", "symmetric"];

/**
 * Points set and moved over a reference picture, kept at the address `at`: an outline, which has a body
 * as soon as it is closed, or one line that words run along, in metres.
 */
export function DrawSurface({ at, line = false }: { at: string; line?: boolean }) {
  const session = useSession();
  const written = line ? lineOf : dataOf;
  const path = String(useAt(at) ?? "");
  const [contours, setContours] = useState<Contour[]>(() => contoursOf(path));
  const [chosen, setChosen] = useState<Chosen | null>(null);
  const [reference, setReference] = useState<string | null>(null);
  const [faint, setFaint] = useState(0.5);
  const drag = useRef<Drag>(null);
  const sent = useRef(path);
  const svg = useRef<SVGSVGElement>(null);
  const file = useRef<HTMLInputElement>(null);

  // Undo, or another tab, changed the outline.
  useEffect(() => {
    if (path !== sent.current) {
      sent.current = path;
      setContours(contoursOf(path));
      setChosen(null);
    }
  }, [path]);
  useEffect(() => () => void (reference && URL.revokeObjectURL(reference)), [reference]);

  function put(next: Contour[], id?: string) {
    setContours(next);
    const data = written(next);
    if (data && data !== sent.current) {
      sent.current = data;
      session.edit([{ op: "replace", path: at, value: data }], id);
    }
  }
  const withNodes = (c: number, make: (contour: Contour) => Contour) =>
    contours.map((contour, i) => (i === c ? make(contour) : contour));

  function under(event: { clientX: number; clientY: number }): Point {
    const m = svg.current!.getScreenCTM()!.inverse();
    const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(m);
    return [Number(p.x.toFixed(4)), Number((-p.y).toFixed(4))];
  }
  const open = contours.findIndex((c) => !c.closed);

  function onGround(event: PointerEvent<SVGSVGElement>) {
    if (event.button !== 0 || (line && open < 0)) return;
    const to = under(event);
    const node = { at: to, before: null, after: null, kind: "corner" as const };
    const next =
      open >= 0
        ? withNodes(open, (c) => ({ ...c, nodes: [...c.nodes, node] }))
        : [...contours, { nodes: [node], closed: false }];
    const c = open >= 0 ? open : contours.length;
    const pick = { contour: c, node: next[c]!.nodes.length - 1 };
    put(next);
    setChosen(pick);
    // Dragged on, a new point grows its handles.
    drag.current = { kind: "after", chosen: pick, id: crypto.randomUUID() };
    event.currentTarget.setPointerCapture(event.pointerId);
  }
  function onMove(event: PointerEvent<SVGSVGElement>) {
    const d = drag.current;
    if (!d) return;
    const to = under(event);
    put(
      withNodes(d.chosen.contour, (contour) => ({
        ...contour,
        nodes: contour.nodes.map((node, i) => {
          if (i !== d.chosen.node) return node;
          if (d.kind === "node") return shifted(node, to[0] - node.at[0], to[1] - node.at[1]);
          if (Math.hypot(to[0] - node.at[0], to[1] - node.at[1]) < 0.01 && !node[d.kind]) return node;
          const fresh = !node.before && !node.after ? { ...node, kind: "symmetric" as const } : node;
          return withHandle(fresh, d.kind, to);
        }),
      })),
      d.id,
    );
  }
  function take(event: PointerEvent, kind: NonNullable<Drag>["kind"], pick: Chosen) {
    event.stopPropagation();
    if (
      kind === "node" &&
      open >= 0 &&
      pick.contour === open &&
      pick.node === 0 &&
      contours[open]!.nodes.length > 2
    ) {
      put(withNodes(open, (c) => ({ ...c, closed: true })));
      return;
    }
    setChosen(pick);
    drag.current = { kind, chosen: pick, id: crypto.randomUUID() };
    svg.current!.setPointerCapture(event.pointerId);
  }
  function remove() {
    if (!chosen) return;
    const next = withNodes(chosen.contour, (c) => ({
      ...c,
      nodes: c.nodes.filter((_, i) => i !== chosen.node),
    })).filter((c) => c.nodes.length > (c.closed ? 1 : 0));
    if (!written(next) && written(contours)) return;
    put(next);
    setChosen(null);
  }
  function turn(kind: NodeKind) {
    if (!chosen) return;
    put(
      withNodes(chosen.contour, (c) => ({
        ...c,
        nodes: c.nodes.map((node, i) =>
          i === chosen.node
            ? ofKind(node, kind, c.nodes.at(i - 1)!.at, c.nodes[(i + 1) % c.nodes.length]!.at)
            : node,
        ),
      })),
    );
  }
  function split(event: React.MouseEvent, c: number, i: number) {
    event.stopPropagation();
    const { nodes } = contours[c]!;
    const [a, b] = [nodes[i]!, nodes[(i + 1) % nodes.length]!];
    const to = under(event);
    const ts = Array.from({ length: 49 }, (_, k) => (k + 1) / 50);
    const away = (t: number) => Math.hypot(...curveAt(a, b, t).map((v, k) => v - to[k]!));
    const t = ts.reduce((best, next) => (away(next) < away(best) ? next : best));
    const [p, m, q] = inserted(a, b, t);
    put(
      withNodes(c, (contour) => ({
        ...contour,
        nodes: contour.nodes.flatMap((node, k) =>
          k === i ? [p, m] : k === (i + 1) % nodes.length ? [q] : [node],
        ),
      })),
    );
  }
  function onKeyDown(event: React.KeyboardEvent) {
    const step = event.shiftKey ? 0.05 : 0.005;
    const by: Record<string, Point> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, step],
      ArrowDown: [0, -step],
    };
    if (event.key === "Escape") look({ surface: null });
    else if (chosen && (event.key === "Delete" || event.key === "Backspace")) remove();
    else if (chosen && by[event.key])
      put(
        withNodes(chosen.contour, (c) => ({
          ...c,
          nodes: c.nodes.map((n, i) => (i === chosen.node ? shifted(n, ...by[event.key]!) : n)),
        })),
      );
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
  const box = useMemo(() => (line ? around : viewBox)(contoursOf(path)), [path === "" ? path : at]); // eslint-disable-line react-hooks/exhaustive-deps
  const now = chosen ? contours[chosen.contour]?.nodes[chosen.node] : undefined;
  return (
    <div className="surface" role="region" aria-label="Draw" onKeyDown={onKeyDown}>
      <div className="surface-paper">
        <svg
          ref={svg}
          viewBox={box.join(" ")}
          tabIndex={0}
          role="application"
          aria-label={
            line
              ? "Drawing surface: click to go on with the line"
              : "Drawing surface: click to set points, on the first one to close"
          }
          onPointerDown={onGround}
          onPointerMove={onMove}
          onPointerUp={() => (drag.current = null)}
          data-arrows
        >
          {reference && (
            <image
              href={reference}
              x={box[0]}
              y={line ? box[1] : -1.02}
              width={box[2]}
              height={line ? box[3] : 1.04}
              opacity={faint}
              preserveAspectRatio="xMidYMid meet"
            />
          )}
          <path
            className="draw-axis"
            d={`M${box[0]} 0h${box[2]}M0 ${box[1]}v${box[3]}${line ? "" : `M${box[0]} -1h${box[2]}`}`}
          />
          {!line && <path className="draw-area" d={dataOf(contours)} transform="scale(1 -1)" />}
          <g transform="scale(1 -1)">
            {contours.map((contour, c) =>
              contour.nodes.map((node, i) => {
                if (!contour.closed && i === contour.nodes.length - 1) return null;
                const next = contour.nodes[(i + 1) % contour.nodes.length]!;
                const d = `M${node.at.join(" ")}C${(node.after ?? node.at).join(" ")} ${(next.before ?? next.at).join(" ")} ${next.at.join(" ")}`;
                return (
                  <g key={`${c}-${i}`}>
                    <path className="draw-side" d={d} />
                    <path
                      className="draw-catch"
                      d={d}
                      onPointerDown={(e) => e.stopPropagation()}
                      onDoubleClick={(e) => split(e, c, i)}
                    />
                  </g>
                );
              }),
            )}
            {now &&
              (["before", "after"] as const).map(
                (side) =>
                  now[side] && (
                    <g key={side}>
                      <line
                        className="draw-arm"
                        x1={now.at[0]}
                        y1={now.at[1]}
                        x2={now[side]![0]}
                        y2={now[side]![1]}
                      />
                      <circle
                        className="draw-handle"
                        cx={now[side]![0]}
                        cy={now[side]![1]}
                        r={0.012 * box[3]}
                        onPointerDown={(e) => take(e, side, chosen!)}
                      />
                    </g>
                  ),
              )}
            {contours.map((contour, c) =>
              contour.nodes.map((node, i) => (
                <NodeMark
                  key={`${c}-${i}`}
                  at={node.at}
                  kind={node.kind}
                  size={0.013 * box[3]}
                  chosen={chosen?.contour === c && chosen.node === i}
                  onPointerDown={(e) => take(e, "node", { contour: c, node: i })}
                />
              )),
            )}
          </g>
        </svg>
      </div>
      <div className="surface-tools">
        <h3>{line ? "Line of the words" : "Draw"}</h3>
        <p className="hint">
          {line
            ? "The words run along the line, from its first point on. Drag points; a click beyond the end goes on with it, dragging bends it. Double-click on the line adds a point."
            : "Click sets a point, dragging bends it; a click on the first point closes the outline. Double-click on a side adds a point. A contour inside another is a hole."}
        </p>
        <div className="segments" role="radiogroup" aria-label="Kind of point">
          {KINDS.map((kind) => (
            <button
              key={kind}
              role="radio"
              aria-checked={now?.kind === kind}
              disabled={!now}
              onClick={() => turn(kind)}
            >
              {kind}
            </button>
          ))}
        </div>
        {!line && (
          <Button
            size="small"
            disabled={open < 0 || contours[open]!.nodes.length < 3}
            onClick={() => put(withNodes(open, (c) => ({ ...c, closed: true })))}
          >
            Close the outline
          </Button>
        )}
        <Button size="small" disabled={!chosen} onClick={remove}>
          Remove the point
        </Button>
        <Button size="small" onClick={() => put(contours.map((c) => mirrored(c)))}>
          Mirror left and right
        </Button>
        {!line && (
          <Button
            size="small"
            onClick={() => put([...contours, ...contours.filter((c) => c.closed).map((c) => mirrored(c))])}
          >
            Add the mirror image
          </Button>
        )}
        <Button size="small" onClick={() => file.current?.click()}>
          Reference picture …
        </Button>
        <input
          ref={file}
          type="file"
          hidden
          accept="image/*"
          aria-label="Reference picture"
          onChange={(e) => e.target.files?.[0] && setReference(URL.createObjectURL(e.target.files[0]))}
        />
        {reference && (
          <input
            type="range"
            min="0.05"
            max="1"
            step="0.05"
            value={faint}
            aria-label="Strength of the reference picture"
            onChange={(e) => setFaint(Number(e.target.value))}
          />
        )}
        <p className="hint mono">{contours.reduce((sum, c) => sum + c.nodes.length, 0)} points</p>
        <Button variant="contained" onClick={() => look({ surface: null })}>
          Done
        </Button>
      </div>
    </div>
  );
}

/** Corners are square, smooth points round, symmetric ones lozenges. */
function NodeMark({
  at: [x, y],
  kind,
  size,
  chosen,
  onPointerDown,
}: {
  at: Point;
  kind: NodeKind;
  size: number;
  chosen: boolean;
  onPointerDown: (e: PointerEvent) => void;
}) {
  const d = {
    corner: `M${x - size} ${y - size}h${2 * size}v${2 * size}h${-2 * size}Z`,
    smooth: `M${x - size} ${y}a${size} ${size} 0 1 0 ${2 * size} 0a${size} ${size} 0 1 0 ${-2 * size} 0Z`,
    symmetric: `M${x} ${y - 1.3 * size}l${1.3 * size} ${1.3 * size}l${-1.3 * size} ${1.3 * size}l${-1.3 * size} ${-1.3 * size}Z`,
  }[kind];
  return <path className={`draw-node${chosen ? " chosen" : ""}`} d={d} onPointerDown={onPointerDown} />;
}

/** Room around the unit height and around what is drawn; y down as the paper has it. */
function viewBox(contours: Contour[]): [number, number, number, number] {
  const xs = contours.flatMap((c) => c.nodes.map((n) => Math.abs(n.at[0])));
  const half = Math.max(0.85, ...xs.map((x) => x + 0.2));
  return [-half, -1.2, 2 * half, 1.4];
}

/** Room around a line, in metres. */
function around(contours: Contour[]): [number, number, number, number] {
  const points = contours.flatMap((c) => c.nodes.map((n) => n.at));
  const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
  const [left, right, low, high] = [
    Math.min(-0.5, ...xs),
    Math.max(0.5, ...xs),
    Math.min(-0.3, ...ys),
    Math.max(0.3, ...ys),
  ];
  const edge = 0.25 * Math.max(right - left, high - low);
  return [left - edge, -high - edge, right - left + 2 * edge, high - low + 2 * edge];
}
