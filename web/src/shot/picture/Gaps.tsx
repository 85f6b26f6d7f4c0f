import { useRef, type RefObject } from "react";
import { useSession, useShotState } from "../document/context";
import { escaped, valueAt } from "../document/pointer";
import { useView } from "../view";
import type { LiveStage } from "./live/stage";
import { useDrawnPlaces } from "./useDrawnPlaces";

const NONE: Record<string, { value: number }> = {};

/** Handles in the gaps between the letters of a title: drag or nudge them to kern by hand. */
export function Gaps({ title, stage }: { title: string; stage: RefObject<LiveStage | null> }) {
  const session = useSession();
  const at = `/things/${escaped(title)}/setting/gaps`;
  const gaps = useShotState(
    (s) => (valueAt(s.shot, at) as Record<string, { value: number }> | undefined) ?? NONE,
  );
  const frame = useView((s) => s.frame);
  const scene = useShotState((s) => s.scene);
  useDrawnPlaces();
  const drag = useRef<{ source: number; from: number; x: number; id: string; scale: number } | null>(null);
  if (!scene) return null;
  const places = stage.current?.seen.gaps(title, scene, frame) ?? [];

  function put(source: number, value: number, id?: string) {
    const held = Math.round(Math.min(2000, Math.max(-1000, value)));
    const known = gaps[source] !== undefined;
    session.edit(
      [
        known
          ? { op: "replace", path: `${at}/${source}/value`, value: held }
          : { op: "add", path: `${at}/${source}`, value: { value: held } },
      ],
      id,
    );
  }
  return (
    <div className="gaps" onPointerDown={(e) => e.stopPropagation()} onPointerUp={(e) => e.stopPropagation()}>
      {places.map(({ source, x, top, bottom, perEm }) => {
        const value = gaps[source]?.value ?? 0;
        return (
          <div
            key={source}
            role="slider"
            tabIndex={0}
            aria-label={`Gap after letter ${source + 1}`}
            aria-valuenow={value}
            aria-valuemin={-1000}
            aria-valuemax={2000}
            aria-valuetext={`${value} thousandths of an em`}
            className={`gap${value ? " set" : ""}`}
            style={{ left: `${x * 100}%`, top: `${top * 100}%`, height: `${(bottom - top) * 100}%` }}
            onPointerDown={(e) => {
              e.currentTarget.setPointerCapture(e.pointerId);
              const width = e.currentTarget.parentElement!.clientWidth;
              drag.current = {
                source,
                from: value,
                x: e.clientX,
                id: crypto.randomUUID(),
                scale: 1000 / Math.max(1e-6, perEm * width),
              };
            }}
            onPointerMove={(e) => {
              const d = drag.current;
              if (d?.source === source) put(source, d.from + (e.clientX - d.x) * d.scale, d.id);
            }}
            onPointerUp={() => (drag.current = null)}
            onKeyDown={(e) => {
              const step =
                (e.shiftKey ? 10 : 1) * (e.key === "ArrowLeft" ? -1 : e.key === "ArrowRight" ? 1 : 0);
              if (!step) return;
              e.preventDefault();
              e.stopPropagation();
              put(source, value + step);
            }}
            data-arrows
          >
            <span className="mono">{value ? (value > 0 ? `+${value}` : value) : ""}</span>
          </div>
        );
      })}
    </div>
  );
}
