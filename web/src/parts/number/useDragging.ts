import { useRef, type PointerEvent } from "react";
import { tidy } from "./arithmetic";

interface Dragged {
  value: number;
  step: number;
  limited: (value: number) => number;
  onChange: (value: number, gesture: string) => void;
  /** Whether it may be dragged now. */
  ready: () => boolean;
  onTake: () => void;
  /** It was not dragged after all. */
  onClick: () => void;
}

/** A number under the pointer, dragged sideways: Shift goes far, Alt goes finely. */
export function useDragging({ value, step, limited, onChange, ready, onTake, onClick }: Dragged) {
  const drag = useRef<{ x: number; from: number; gesture: string; moved: boolean } | null>(null);
  return {
    onPointerDown(event: PointerEvent<HTMLElement>) {
      if (!ready() || event.button !== 0) return;
      event.preventDefault();
      onTake();
      drag.current = { x: event.clientX, from: value, gesture: crypto.randomUUID(), moved: false };
      event.currentTarget.setPointerCapture(event.pointerId);
    },
    onPointerMove(event: PointerEvent<HTMLElement>) {
      const d = drag.current;
      if (!d) return;
      const dx = event.clientX - d.x;
      if (!d.moved && Math.abs(dx) < 3) return;
      d.moved = true;
      const by = step * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1);
      const next = tidy(limited(d.from + dx * by));
      if (next !== value) onChange(next, d.gesture);
    },
    onPointerUp() {
      const d = drag.current;
      drag.current = null;
      if (d && !d.moved) onClick();
    },
    onPointerCancel() {
      drag.current = null;
    },
  };
}
