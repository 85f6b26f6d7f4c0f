import { useEffect, useRef } from "react";
import { useAt, useSession, useShotState } from "../../document/context";
import { useView } from "../../view";
import { GridCorners } from "./GridCorners";
import { PlateInTurn } from "./PlateInTurn";
import { PlateOutlines } from "./PlateOutlines";
import { PlatePicks } from "./PlatePicks";
import { WITH_WORDS } from "./saying";
import { useGrid, usePoints, type Line } from "./usePoints";
import "./overlay.css";

/** Residual in pixels from which on a point counts as weak. */
const WEAK = 0.8;

/** Over the picture of a plate: its points, a grid on its ground, and what is picked there. */
export function PlateOverlay({ width, height }: { width: number; height: number }) {
  const frame = useView((s) => s.frame);
  const playing = useView((s) => s.playing);
  const shown = useView((s) => s.points);
  const picking = useView((s) => s.picking);
  const traced = useView((s) => s.traced);
  const matched = useAt("/camera/rig") === "matched";
  const points = usePoints();
  const canvas = useRef<HTMLCanvasElement>(null);
  const swaps = useView((s) => s.swaps);
  const grid = useGrid(frame, shown && matched && !playing && !traced && picking !== "corners");

  useEffect(() => {
    const on = canvas.current?.getContext("2d");
    if (!on) return;
    const ratio = window.devicePixelRatio;
    on.canvas.width = Math.round(width * ratio);
    on.canvas.height = Math.round(height * ratio);
    on.scale(ratio, ratio);
    if (!points || !shown || !matched || traced) return;
    const at = points.moments[Math.min(frame, points.moments.length - 1)] ?? 0;
    for (let k = points.begin[at] ?? 0; k < (points.begin[at + 1] ?? 0); k++) {
      const [x, y] = [points.xy[2 * k]! * width, points.xy[2 * k + 1]! * height];
      on.lineWidth = 1;
      if (points.off[k]! < WEAK) {
        on.strokeStyle = "rgba(0,0,0,.55)";
        on.fillStyle = "rgba(120,214,190,.95)";
        on.beginPath();
        on.arc(x, y, 1.8, 0, 7);
        on.stroke();
        on.fill();
      } else {
        on.strokeStyle = "#ff6b5e";
        on.beginPath();
        on.moveTo(x - 2.5, y - 2.5);
        on.lineTo(x + 2.5, y + 2.5);
        on.moveTo(x + 2.5, y - 2.5);
        on.lineTo(x - 2.5, y + 2.5);
        on.stroke();
      }
    }
  }, [points, frame, shown, matched, traced, width, height]);

  return (
    <>
      {picking && !WITH_WORDS.includes(picking) && !playing && <PlateBeneath frame={frame} />}
      <svg className="plate-grid" viewBox="0 0 1 1" preserveAspectRatio="none" aria-hidden="true">
        {grid.map((line, k) => (
          <path key={k} d={pathOf(line)} />
        ))}
      </svg>
      <canvas ref={canvas} className="plate-points" aria-hidden="true" />
      {swaps && !playing && <PlateInTurn frame={frame} />}
      {!playing && <PlateOutlines frame={frame} busy={picking !== null} />}
      {picking === "corners" && !playing && <GridCorners />}
      {picking && picking !== "corners" && !playing && <PlatePicks key={picking} what={picking} />}
    </>
  );
}

/** The plate alone, so that no word stands before what is picked. */
function PlateBeneath({ frame }: { frame: number }) {
  const session = useSession();
  const key = useShotState((s) => s.scene?.facts.behind_key ?? "");
  return (
    <img
      className="plate-in-turn"
      src={`/api/shots/${session.id}/plate/frame?frame=${frame}&as=${key}`}
      alt="The plate alone"
    />
  );
}

const pathOf = (line: Line) => line.map(([x, y], k) => `${k ? "L" : "M"}${x} ${y}`).join("");
