import { useMemo, type PointerEvent, type RefObject } from "react";
import { contoursOf, dataOf, type Contour, type NodeKind, type Point } from "./nodes";
import type { Drawing } from "./useDrawing";

/** The paper: what is drawn, over a reference picture, with points and handles to take. */
export function DrawPaper({
  at,
  drawing,
  svg,
  reference,
  faint,
}: {
  at: string;
  drawing: Drawing;
  svg: RefObject<SVGSVGElement | null>;
  reference: string | null;
  faint: number;
}) {
  const { path, line, contours, chosen, take } = drawing;
  const box = useMemo(() => (line ? around : viewBox)(contoursOf(path)), [path === "" ? path : at]); // eslint-disable-line react-hooks/exhaustive-deps
  return (
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
      onPointerDown={drawing.onGround}
      onPointerMove={drawing.onMove}
      onPointerUp={drawing.onUp}
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
        <Sides drawing={drawing} />
        <Arms drawing={drawing} size={0.012 * box[3]} />
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
  );
}

/** The sides between points; a double-click puts a point on one. */
function Sides({ drawing: { contours, split } }: { drawing: Drawing }) {
  return contours.map((contour, c) =>
    contour.nodes.map((node, i) => {
      if (!contour.closed && i === contour.nodes.length - 1) return null;
      const next = contour.nodes[(i + 1) % contour.nodes.length]!;
      const [from, to] = [node.after ?? node.at, next.before ?? next.at];
      const d = `M${node.at.join(" ")}C${from.join(" ")} ${to.join(" ")} ${next.at.join(" ")}`;
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
  );
}

/** Handles of the chosen point. */
function Arms({ drawing: { now, chosen, take }, size }: { drawing: Drawing; size: number }) {
  if (!now) return null;
  return (["before", "after"] as const).map((side) => {
    const end = now[side];
    return (
      end && (
        <g key={side}>
          <line className="draw-arm" x1={now.at[0]} y1={now.at[1]} x2={end[0]} y2={end[1]} />
          <circle
            className="draw-handle"
            cx={end[0]}
            cy={end[1]}
            r={size}
            onPointerDown={(e) => take(e, side, chosen!)}
          />
        </g>
      )
    );
  });
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
