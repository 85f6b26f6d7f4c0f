import { useRef, type KeyboardEvent, type PointerEvent, type ReactNode } from "react";
import { useSession } from "../document/context";
import { numberAt, setValue } from "../document/values";
import type { Listed } from "../things";
import { point, useView } from "../view";
import { nudge } from "./nudge";
import { AXES, type Side } from "./projection";

/** A spot on the plot that can be dragged, or nudged with the arrow keys. */
export function Handle({
  at,
  thing,
  label,
  side,
  children,
}: {
  at: string;
  thing: Listed;
  label: string;
  side: Side;
  children: ReactNode;
}) {
  const session = useSession();
  const drag = useRef<{ x: number; y: number; from: [number, number]; gesture: string } | null>(null);
  const axes = AXES[side];

  function put(values: [number, number], gesture: string) {
    const shot = session.store.getState().shot!;
    const { frame } = useView.getState();
    session.edit(
      axes.flatMap(([axis], i) => setValue(shot, `${at}/${axis}`, Number(values[i]!.toFixed(4)), frame)),
      gesture,
    );
  }
  function now(): [number, number] {
    const { shot, scene } = session.store.getState();
    const { frame } = useView.getState();
    return axes.map(
      ([axis]) => scene?.valueAt(`${at}/${axis}`, frame) ?? numberAt(shot!, `${at}/${axis}`),
    ) as [number, number];
  }

  function onPointerDown(event: PointerEvent<SVGGElement>) {
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    point(thing.pointed);
    drag.current = { x: event.clientX, y: event.clientY, from: now(), gesture: crypto.randomUUID() };
  }
  function onPointerMove(event: PointerEvent<SVGGElement>) {
    const d = drag.current;
    const matrix = event.currentTarget.ownerSVGElement?.getScreenCTM();
    if (!d || !matrix) return;
    event.stopPropagation();
    if (Math.hypot(event.clientX - d.x, event.clientY - d.y) < 2) return;
    put(
      [
        d.from[0] + ((event.clientX - d.x) / matrix.a) * axes[0][1],
        d.from[1] + ((event.clientY - d.y) / matrix.d) * axes[1][1],
      ],
      d.gesture,
    );
  }
  function onKeyDown(event: KeyboardEvent) {
    const by = nudge(event);
    if (!by) return;
    const [a, b] = now();
    put([a + by[0] * axes[0][1], b + by[1] * axes[1][1]], `nudge-${Math.floor(Date.now() / 1500)}`);
  }

  return (
    <g
      className="handle"
      tabIndex={0}
      role="button"
      aria-label={label}
      data-arrows
      onFocus={() => point(thing.pointed)}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={(e) => {
        e.stopPropagation();
        drag.current = null;
      }}
      onKeyDown={onKeyDown}
    >
      {children}
    </g>
  );
}
