import { useState, type PointerEvent } from "react";
import { look, type Region } from "../view";

/** Draws the part of the picture that is to be traced alone. */
export function RegionPicker() {
  const [drawn, setDrawn] = useState<{ x: number; y: number; to: [number, number] } | null>(null);
  const at = (event: PointerEvent<HTMLDivElement>): [number, number] => {
    const box = event.currentTarget.getBoundingClientRect();
    const within = (v: number) => Math.max(0, Math.min(1, v));
    return [within((event.clientX - box.left) / box.width), within((event.clientY - box.top) / box.height)];
  };
  const region = drawn && regionOf([drawn.x, drawn.y], drawn.to);
  return (
    <div
      className="region-picker"
      role="application"
      aria-label="Draw the part to be traced"
      tabIndex={0}
      ref={(node) => node?.focus()}
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        const [x, y] = at(e);
        setDrawn({ x, y, to: [x, y] });
      }}
      onPointerMove={(e) => {
        e.stopPropagation();
        if (drawn) setDrawn({ ...drawn, to: at(e) });
      }}
      onPointerUp={(e) => {
        e.stopPropagation();
        look({ region: region && region[2] > 0.01 && region[3] > 0.01 ? region : null });
      }}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === "Escape") look({ region: null });
        // Without a mouse: the middle of the picture.
        if (e.key === "Enter") look({ region: [0.25, 0.25, 0.5, 0.5] });
      }}
    >
      {region && <RegionFrame region={region} />}
    </div>
  );
}

export function RegionFrame({ region: [x, y, w, h] }: { region: Region }) {
  return (
    <i
      className="region-frame"
      style={{ left: `${x * 100}%`, top: `${y * 100}%`, width: `${w * 100}%`, height: `${h * 100}%` }}
    />
  );
}

function regionOf([ax, ay]: [number, number], [bx, by]: [number, number]): Region {
  return [Math.min(ax, bx), Math.min(ay, by), Math.abs(ax - bx), Math.abs(ay - by)];
}
