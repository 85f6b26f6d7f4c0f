import { useRef } from "react";
import { look, useView } from "../view";
import { STRAND } from "./Strand";

const MOST = 420;

/** The lower edge of a strand: dragged, or by arrow keys, it becomes taller; double-clicked what it was. */
export function StrandEdge({ of, name, tall }: { of: string; name: string; tall: number }) {
  const drag = useRef<{ y: number; from: number } | null>(null);
  const put = (height: number) =>
    look({
      strands: { ...useView.getState().strands, [of]: Math.round(Math.min(MOST, Math.max(STRAND, height))) },
    });
  return (
    <div
      className="strand-edge"
      role="separator"
      aria-orientation="horizontal"
      aria-label={`Height of ${name}`}
      aria-valuenow={tall}
      aria-valuemin={STRAND}
      aria-valuemax={MOST}
      tabIndex={0}
      data-arrows
      title="Drag: taller strands show how fast the value moves, too"
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        drag.current = { y: e.clientY, from: tall };
      }}
      onPointerMove={(e) => drag.current && put(drag.current.from + e.clientY - drag.current.y)}
      onPointerUp={() => (drag.current = null)}
      onPointerCancel={() => (drag.current = null)}
      onDoubleClick={() => put(STRAND)}
      onKeyDown={(e) => {
        if (e.key !== "ArrowUp" && e.key !== "ArrowDown") return;
        put(tall + (e.key === "ArrowDown" ? 20 : -20));
        e.preventDefault();
        e.stopPropagation();
      }}
    />
  );
}
