import { useEffect, useReducer } from "react";
import { MOVED } from "./drawn";

/** Shows again what is projected by the camera of the live view, as soon as that has moved. */
export function useDrawnPlaces(): void {
  const [, again] = useReducer((count: number) => count + 1, 0);
  useEffect(() => {
    window.addEventListener(MOVED, again);
    return () => window.removeEventListener(MOVED, again);
  }, []);
}
