import { useEffect, useState, type RefObject } from "react";

/**
 * How often a canvas was given its graphics, and whether they are gone now: the system takes them away when
 * the card hangs, sleeps or runs out of memory, and gives them back empty.
 */
export function useGraphics(canvas: RefObject<HTMLCanvasElement | null>): { given: number; gone: boolean } {
  const [state, setState] = useState({ given: 1, gone: false });
  useEffect(() => {
    const target = canvas.current;
    if (!target) return;
    const lost = (event: Event) => {
      // Without this they are never given back.
      event.preventDefault();
      setState(({ given }) => ({ given, gone: true }));
    };
    const restored = () => setState(({ given }) => ({ given: given + 1, gone: false }));
    target.addEventListener("webglcontextlost", lost);
    target.addEventListener("webglcontextrestored", restored);
    return () => {
      target.removeEventListener("webglcontextlost", lost);
      target.removeEventListener("webglcontextrestored", restored);
    };
  }, [canvas]);
  return state;
}
