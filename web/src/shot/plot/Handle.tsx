import { useRef, type KeyboardEvent, type PointerEvent, type ReactNode } from "react";
import { useSession } from "../document/context";
import { cameraAsked, cameraTold } from "../document/cameras";
import type { Shot } from "../document/patches";
import { valueAt } from "../document/pointer";
import { cameraOperations, wayWithin, type Point } from "../document/spaces";
import { numberAt, setValue } from "../document/values";
import type { Listed } from "../things";
import { point, useView } from "../view";
import { nudge } from "./nudge";
import { AXES, type Side } from "./projection";

interface From {
  own: Point;
  camera: { position: Point; aim: Point };
}

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
  const drag = useRef<{ x: number; y: number; from: From; gesture: string } | null>(null);
  const axes = AXES[side];
  const camera = thing.kind === "camera";
  const key = camera ? cameraAsked(thing.at) : thing.key;

  /** Move it from where it was: metres in the room, across and down the paper. */
  function put(from: From, by: [number, number], gesture: string) {
    const { shot, scene } = session.store.getState();
    const { frame } = useView.getState();
    if (!shot || !scene) return;
    const way: Point = [0, 0, 0];
    axes.forEach(([axis], i) => (way["xyz".indexOf(axis)] = by[i]!));
    const stands = camera ? (valueAt(shot, thing.at) as Shot["camera"]) : undefined;
    if (at === `${thing.at}/position` && stands?.rig === "orbit") {
      const position = from.camera.position.map((value, i) => value + way[i]!) as Point;
      session.edit(cameraOperations(shot, scene, { ...from.camera, position }, frame, thing.at), gesture);
      return;
    }
    // What the camera aims at beside a thing that it follows lies straight in the room.
    const follows = at === `${thing.at}/aim` && Boolean(stands?.aim_at);
    const own = follows ? way : wayWithin(scene, key, frame, way);
    session.edit(
      (["x", "y", "z"] as const).flatMap((axis, i) =>
        Math.abs(own[i]!) < 1e-9
          ? []
          : setValue(shot, `${at}/${axis}`, Number((from.own[i]! + own[i]!).toFixed(4)), frame),
      ),
      gesture,
    );
  }
  function now(): From {
    const { shot, scene } = session.store.getState();
    const { frame } = useView.getState();
    const own = (["x", "y", "z"] as const).map(
      (axis) => scene?.valueAt(`${at}/${axis}`, frame) ?? numberAt(shot!, `${at}/${axis}`),
    ) as Point;
    const told = camera ? cameraTold(scene!, thing.at) : "camera";
    const pose = (name: string) => scene!.triple(`${told}/${name}`, frame);
    return { own, camera: { position: pose("position"), aim: pose("aim") } };
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
    const by: [number, number] = [
      ((event.clientX - d.x) / matrix.a) * axes[0][1],
      ((event.clientY - d.y) / matrix.d) * axes[1][1],
    ];
    put(d.from, by, d.gesture);
  }
  function onKeyDown(event: KeyboardEvent) {
    // Walking past by Tab points at nothing: what is in the bench stays there.
    if (event.key === "Enter" || event.key === " ") {
      event.preventDefault();
      event.stopPropagation();
      point(thing.pointed);
    }
    const by = nudge(event);
    if (!by) return;
    point(thing.pointed);
    const gesture = `nudge-${Math.floor(Date.now() / 1500)}`;
    put(now(), [by[0] * axes[0][1], by[1] * axes[1][1]], gesture);
  }

  return (
    <g
      className="handle"
      tabIndex={0}
      role="button"
      aria-label={label}
      data-arrows
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
