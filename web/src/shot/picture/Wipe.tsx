import { useRef, type KeyboardEvent, type PointerEvent } from "react";
import { look } from "../view";

/**
 * The line between two pictures, to be dragged: left of it the live view or the kept picture, right of it
 * the traced one.
 */
export function Wipe({ at, kept, name }: { at: number; kept: string | null; name?: string }) {
  const line = useRef<HTMLDivElement>(null);
  const put = (next: number) =>
    look({ wipe: { at: Math.max(0, Math.min(1, next)), kept, ...(name && { name }) } });
  function onPointerMove(event: PointerEvent<HTMLDivElement>) {
    event.stopPropagation();
    if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
    const box = line.current!.parentElement!.getBoundingClientRect();
    put((event.clientX - box.left) / box.width);
  }
  function onKeyDown(event: KeyboardEvent) {
    const by = { ArrowLeft: -0.02, ArrowRight: 0.02 }[event.key];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    put(at + by);
  }
  return (
    <div
      ref={line}
      className="wipe"
      style={{ left: `${at * 100}%` }}
      role="slider"
      tabIndex={0}
      aria-label="Wipe"
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(at * 100)}
      data-arrows
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerMove={onPointerMove}
      onPointerUp={(e) => e.stopPropagation()}
      onKeyDown={onKeyDown}
    >
      <span className="wipe-name left">{kept ? (name ?? "kept") : "live"}</span>
      <span className="wipe-name right">traced</span>
    </div>
  );
}
