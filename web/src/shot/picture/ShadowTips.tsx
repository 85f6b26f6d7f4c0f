import { useRef, type PointerEvent, type RefObject } from "react";
import { useSession } from "../document/context";
import { ShadowDrag } from "../document/shadow";
import { useFootprints } from "../plot/useFootprints";
import { useView } from "../view";
import type { LiveStage } from "./live/stage";
import { useDrawnPlaces } from "./useDrawnPlaces";

/** Tips of the shadows of the light pointed at, on the ground of the picture, to be dragged there. */
export function ShadowTips({ stage }: { stage: RefObject<LiveStage | null> }) {
  const session = useSession();
  const pointed = useView((s) => s.pointed);
  const frame = useView((s) => s.frame);
  useDrawnPlaces();
  const found = useFootprints();
  const drag = useRef<ShadowDrag | null>(null);
  const light = typeof pointed === "object" ? pointed.thing : null;
  return found
    .filter((one) => one.light === light && one.tip)
    .map((one) => {
      const tip = one.tip as [number, number, number];
      const place = stage.current?.seen.project(tip);
      if (!place || Math.min(...place) < 0 || Math.max(...place) > 1) return null;
      const move = (event: PointerEvent<HTMLElement>) => {
        if (!drag.current) return;
        event.stopPropagation();
        const box = event.currentTarget.parentElement!.getBoundingClientRect();
        const target = stage.current?.seen.onGround(
          (event.clientX - box.left) / box.width,
          (event.clientY - box.top) / box.height,
          tip[1],
        );
        if (target) drag.current.to(target);
      };
      return (
        <i
          key={`${one.light} ${one.thing}`}
          className="shadow-tip"
          style={{ left: `${place[0] * 100}%`, top: `${place[1] * 100}%` }}
          title="Drag the shadow’s tip; the light follows"
          onPointerDown={(e) => {
            e.stopPropagation();
            e.currentTarget.setPointerCapture(e.pointerId);
            drag.current = new ShadowDrag(session, one.light, one.thing, frame);
          }}
          onPointerMove={move}
          onPointerUp={(e) => {
            e.stopPropagation();
            drag.current = null;
          }}
        />
      );
    });
}
