import { useRef, type KeyboardEvent, type PointerEvent } from "react";
import { useSession } from "../document/context";
import { ShadowDrag } from "../document/shadow";
import { useView } from "../view";
import { nudge } from "./nudge";
import { onPaper, type Side } from "./projection";
import { useFootprints, type Footprint } from "./useFootprints";

/** Shadows on the floor; those of the light pointed at stand out, and their tips can be dragged. */
export function Footprints({ side, pixel }: { side: Side; pixel: number }) {
  const pointed = useView((s) => s.pointed);
  const found = useFootprints();
  const chosen = typeof pointed === "object" ? pointed.thing : null;
  return found.map((one) => {
    const ground = one.tip?.[1] ?? 0;
    const d = one.rings
      .map((ring) => `M${ring.map(([x = 0, z = 0]) => onPaper(side, [x, ground, z]).join(" ")).join("L")}Z`)
      .join("");
    return (
      <g key={`${one.light} ${one.thing}`} className={`plot-shadow${one.light === chosen ? " chosen" : ""}`}>
        <path d={d} fillRule="evenodd" strokeWidth={pixel} />
        {one.light === chosen && one.tip && side === "plan" && <Tip print={one} pixel={pixel} />}
      </g>
    );
  });
}

function Tip({ print, pixel }: { print: Footprint; pixel: number }) {
  const session = useSession();
  const drag = useRef<{ run: ShadowDrag; x: number; y: number; from: [number, number, number] } | null>(null);
  const tip = print.tip as [number, number, number];
  const [x, y] = onPaper("plan", tip);
  const begin = () => new ShadowDrag(session, print.light, print.thing, useView.getState().frame);
  function onPointerMove(event: PointerEvent<SVGGElement>) {
    const d = drag.current;
    const matrix = event.currentTarget.ownerSVGElement?.getScreenCTM();
    if (!d || !matrix) return;
    event.stopPropagation();
    d.run.to([
      d.from[0] + (event.clientX - d.x) / matrix.a,
      d.from[1],
      d.from[2] + (event.clientY - d.y) / matrix.d,
    ]);
  }
  function onKeyDown(event: KeyboardEvent) {
    const by = nudge(event);
    if (by) begin().to([tip[0] + by[0], tip[1], tip[2] + by[1]]);
  }
  return (
    <g
      className="handle"
      tabIndex={0}
      role="button"
      aria-label={`Shadow’s tip: ${print.thing} by ${print.light}`}
      data-arrows
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        drag.current = { run: begin(), x: e.clientX, y: e.clientY, from: tip };
      }}
      onPointerMove={onPointerMove}
      onPointerUp={(e) => {
        e.stopPropagation();
        drag.current = null;
      }}
      onKeyDown={onKeyDown}
    >
      <path
        className="tip"
        d={`M${x - pixel * 5} ${y}L${x} ${y - pixel * 5}L${x + pixel * 5} ${y}L${x} ${y + pixel * 5}Z`}
        strokeWidth={pixel * 1.3}
      />
      <circle className="catch" cx={x} cy={y} r={pixel * 10} />
    </g>
  );
}
