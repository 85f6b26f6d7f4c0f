import { useRef, type CSSProperties, type PointerEvent } from "react";
import { useOpen, useSequenceSession } from "./context";
import { cropOf, framed, panned, type Crop } from "./framing";
import { useSequenceView } from "./view";

interface Drag {
  from: Crop;
  shot: string;
  aspect: number;
  begin: [number, number];
  gesture: string;
}

/** A picture of a shot that is framed by hand is dragged to where it is to be. */
export function usePanning(width: number, height: number) {
  const session = useSequenceSession();
  const { document, starts, shots } = useOpen();
  const frame = useSequenceView((s) => s.frame);
  const version = useSequenceView((s) => s.version);
  const drag = useRef<Drag | null>(null);
  const here = starts.findLastIndex(
    (start, k) => start <= frame && frame < start + (document.line?.[k]?.frames ?? 0),
  );
  const shot = document.line?.[here]?.shot ?? "";
  const crop = cropOf(document, version, shot);
  const format = shots.find(({ id }) => id === shot)?.format;
  if (!crop || !format) return {};
  const aspect = (format.width ?? 16) / (format.height ?? 9);
  return {
    style: { aspectRatio: `${width} / ${height}`, cursor: "grab", touchAction: "none" } as CSSProperties,
    onPointerDown: (event: PointerEvent<HTMLElement>) => {
      event.currentTarget.setPointerCapture(event.pointerId);
      const begin: [number, number] = [event.clientX, event.clientY];
      drag.current = { from: crop, shot, aspect, begin, gesture: crypto.randomUUID() };
    },
    onPointerMove: (event: PointerEvent<HTMLElement>) => {
      const d = drag.current;
      if (!d) return;
      const box = event.currentTarget.getBoundingClientRect();
      const by: [number, number] = [
        (event.clientX - d.begin[0]) / box.width,
        (event.clientY - d.begin[1]) / box.height,
      ];
      const next = panned(d.from, by, d.aspect, width / height);
      session.edit(framed(document, version, d.shot, next), d.gesture);
    },
    onPointerUp: () => (drag.current = null),
    onPointerCancel: () => (drag.current = null),
  };
}
