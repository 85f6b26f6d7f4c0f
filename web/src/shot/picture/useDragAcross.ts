import { useRef, type PointerEvent } from "react";
import type { Point } from "../document/spaces";
import { across, type Project } from "./across";

interface Drag<T> {
  world: Point;
  x: number;
  y: number;
  gesture: string;
  from: T;
}

/**
 * Drags a mark across the picture: `moved` hears how far its point of the room has gone since it was taken,
 * with what was known then.
 */
export function useDragAcross<T>(
  project: Project,
  moved: (way: Point, from: T, gesture: string, event: PointerEvent<SVGElement>) => void,
) {
  const drag = useRef<Drag<T> | null>(null);
  return {
    take(event: PointerEvent<SVGElement>, world: Point, from: T) {
      event.stopPropagation();
      event.currentTarget.setPointerCapture(event.pointerId);
      const { clientX: x, clientY: y } = event;
      drag.current = { world, x, y, gesture: crypto.randomUUID(), from };
    },
    handlers: {
      onPointerMove(event: PointerEvent<SVGElement>) {
        const d = drag.current;
        const paper = event.currentTarget.ownerSVGElement?.getScreenCTM();
        if (!d || !paper) return;
        event.stopPropagation();
        const by: [number, number] = [(event.clientX - d.x) / paper.a, (event.clientY - d.y) / paper.d];
        const way = across(project, d.world, by);
        if (way) moved(way, d.from, d.gesture, event);
      },
      onPointerUp(event: PointerEvent<SVGElement>) {
        event.stopPropagation();
        drag.current = null;
      },
      onPointerCancel() {
        drag.current = null;
      },
    },
  };
}
