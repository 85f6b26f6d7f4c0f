import { useRef } from "react";
import type { Pane } from "./usePane";
import "./panes.css";

interface Props {
  label: string;
  pane: Pane;
  /** On which side of the border the pane lies. */
  side: "right" | "below";
}

const STEP = 20;

/** The border of a pane: drag it, or move it with the arrow keys. */
export function Separator({ label, pane, side }: Props) {
  const start = useRef<{ at: number; size: number } | null>(null);
  const upright = side === "right";
  const place = (e: React.PointerEvent) => (upright ? e.clientX : e.clientY);
  return (
    <div
      className={`separator ${side}`}
      role="separator"
      aria-orientation={upright ? "vertical" : "horizontal"}
      aria-label={label}
      aria-valuenow={Math.round(pane.size)}
      aria-valuemin={pane.low}
      aria-valuemax={pane.high}
      tabIndex={0}
      data-arrows
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        // What is shown counts, where there is less room than was wished for.
        const shown = e.currentTarget.parentElement!.getBoundingClientRect();
        start.current = { at: place(e), size: upright ? shown.width : shown.height };
      }}
      onPointerMove={(e) => start.current && pane.set(start.current.size + start.current.at - place(e))}
      onPointerUp={() => (start.current = null)}
      onPointerCancel={() => (start.current = null)}
      onKeyDown={(e) => {
        const more = upright ? "ArrowLeft" : "ArrowUp";
        const less = upright ? "ArrowRight" : "ArrowDown";
        if (e.key === more) pane.set(pane.size + STEP);
        if (e.key === less) pane.set(pane.size - STEP);
      }}
    />
  );
}
