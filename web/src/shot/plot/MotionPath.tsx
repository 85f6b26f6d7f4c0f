import { useMemo, useRef, type PointerEvent } from "react";
import { useChannels, useFormat, useSession } from "../document/context";
import type { Scene } from "../document/scene";
import { cameraAsked } from "../document/cameras";
import { wayWithin, type Point } from "../document/spaces";
import { keysOf, setKey } from "../document/values";
import { PathHandles } from "../picture/PathHandles";
import type { Listed } from "../things";
import { look, useView } from "../view";
import { placesOf, positionOf } from "./places";
import { AXES, onPaper, type Side } from "./projection";

interface Props {
  scene: Scene;
  thing: Listed;
  side: Side;
  pixel: number;
}

/**
 * Where a thing is over time: its way with a tick a frame, and a mark at every key of its position, to be
 * dragged.
 */
export function MotionPath({ scene, thing, side, pixel }: Props) {
  const { frames } = useFormat();
  const channels = useChannels();
  const present = useView((s) => s.frame);
  const at = positionOf(thing);
  const where = useMemo(() => placesOf(scene, thing), [scene, thing]);
  const keyed = useMemo(
    () => [
      ...new Set(
        ["x", "y", "z"].flatMap((axis) => channels[`${at}/${axis}`]?.keys.map(({ frame }) => frame) ?? []),
      ),
    ],
    [channels, at],
  );
  const points = useMemo(() => {
    if (!where) return [];
    const step = Math.max(1, Math.floor(frames / 2000));
    return Array.from({ length: Math.ceil(frames / step) }, (_, i) => onPaper(side, where(i * step)));
  }, [where, frames, side]);
  const goes = points.some(([x, y]) => Math.hypot(x - points[0]![0], y - points[0]![1]) > pixel);
  if (!where || !at || (!goes && !keyed.length)) return null;
  return (
    <g className="motion-path">
      <path d={`M${points.map((p) => p.join(" ")).join("L")}`} strokeWidth={pixel * 1.2} />
      {frames <= 300 &&
        points.map(([x, y], i) => <circle key={i} className="tick" cx={x} cy={y} r={pixel * 1.1} />)}
      {keyed.map((frame) => (
        <PathKey
          key={frame}
          {...{ scene, thing, side, pixel, at, frame }}
          spot={onPaper(side, where(frame))}
        />
      ))}
      {keyed.includes(present) && (
        <PathHandles
          {...{ scene, thing, at, where }}
          frame={present}
          project={(point) => onPaper(side, point)}
          space={thing.kind === "camera" ? cameraAsked(thing.at) : thing.key}
        />
      )}
    </g>
  );
}

function PathKey({
  scene,
  thing,
  side,
  pixel,
  at,
  frame,
  spot: [x, y],
}: Props & { at: string; frame: number; spot: [number, number] }) {
  const session = useSession();
  const present = useView((s) => s.frame === frame);
  const drag = useRef<{ x: number; y: number; from: Point; gesture: string } | null>(null);
  const key = thing.kind === "camera" ? cameraAsked(thing.at) : thing.key;

  function onPointerDown(event: PointerEvent<SVGGElement>) {
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    const shot = session.store.getState().shot!;
    const from = (["x", "y", "z"] as const).map(
      (axis) => keysOf(shot, `${at}/${axis}`).find((one) => one.frame === frame)?.value ?? NaN,
    ) as Point;
    drag.current = { x: event.clientX, y: event.clientY, from, gesture: crypto.randomUUID() };
    look({ frame: Math.round(frame), playing: false });
  }
  function onPointerMove(event: PointerEvent<SVGGElement>) {
    const d = drag.current;
    const paper = event.currentTarget.ownerSVGElement?.getScreenCTM();
    const shot = session.store.getState().shot;
    if (!d || !paper || !shot || Math.hypot(event.clientX - d.x, event.clientY - d.y) < 2) return;
    const way: Point = [0, 0, 0];
    const by = [(event.clientX - d.x) / paper.a, (event.clientY - d.y) / paper.d];
    AXES[side].forEach(([axis, sign], i) => (way["xyz".indexOf(axis)] = by[i]! * sign));
    const own = wayWithin(scene, key, frame, way);
    session.edit(
      (["x", "y", "z"] as const).flatMap((axis, i) =>
        // Only values that have a key here move; others go on as they do.
        Number.isNaN(d.from[i]!) || Math.abs(own[i]!) < 1e-9
          ? []
          : setKey(shot, `${at}/${axis}`, frame, Number((d.from[i]! + own[i]!).toFixed(4))),
      ),
      d.gesture,
    );
  }

  return (
    <g
      className={`path-key${present ? " present" : ""}`}
      role="button"
      aria-label={`Where ${thing.name} is at frame ${frame}`}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={() => (drag.current = null)}
      onPointerCancel={() => (drag.current = null)}
    >
      <path
        d={`M${x} ${y - pixel * 5}L${x + pixel * 5} ${y}L${x} ${y + pixel * 5}L${x - pixel * 5} ${y}Z`}
        strokeWidth={pixel}
      />
      <circle className="catch" cx={x} cy={y} r={pixel * 9} />
      <title>{`Frame ${frame}: drag to move where it is then`}</title>
    </g>
  );
}
