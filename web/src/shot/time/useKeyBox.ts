import { useRef, useState, type CSSProperties, type PointerEvent } from "react";
import { look, useView, type ChosenKey } from "../view";

/** A box drawn over rows chooses all keys in it; with Shift they come to those that are chosen already. */
export function useKeyBox() {
  const from = useRef<{ x: number; y: number; before: ChosenKey[] } | null>(null);
  const [shown, setShown] = useState<CSSProperties | null>(null);

  function onPointerDown(event: PointerEvent<HTMLElement>) {
    const target = event.target as Element;
    // Only where a row is empty: keys, spans, handles and names have drags of their own.
    if (event.button !== 0 || !target.matches("svg.track:not(.fan), svg.strand, svg.strand .curve")) return;
    const before = event.shiftKey ? useView.getState().chosen : [];
    from.current = { x: event.clientX, y: event.clientY, before };
    event.currentTarget.setPointerCapture(event.pointerId);
    look({ chosen: before });
  }

  function onPointerMove(event: PointerEvent<HTMLElement>) {
    const begun = from.current;
    if (!begun) return;
    const [left, right] = [begun.x, event.clientX].sort((a, b) => a - b) as [number, number];
    const [top, bottom] = [begun.y, event.clientY].sort((a, b) => a - b) as [number, number];
    if (right - left < 3 && bottom - top < 3) return;
    const sheet = event.currentTarget.getBoundingClientRect();
    setShown({ left: left - sheet.left, top: top - sheet.top, width: right - left, height: bottom - top });
    const inside = [...event.currentTarget.querySelectorAll<SVGGElement>("[data-keys]")].filter((key) => {
      const { x, y, width, height } = key.getBoundingClientRect();
      const [mx, my] = [x + width / 2, y + height / 2];
      return mx >= left && mx <= right && my >= top && my <= bottom;
    });
    const found = inside.flatMap((key) => JSON.parse(key.dataset.keys!) as ChosenKey[]);
    const named = new Map([...begun.before, ...found].map((key) => [`${key.pointer} ${key.frame}`, key]));
    look({ chosen: [...named.values()] });
  }

  function end() {
    from.current = null;
    setShown(null);
  }

  return { shown, handlers: { onPointerDown, onPointerMove, onPointerUp: end, onPointerCancel: end } };
}
