import { useEffect } from "react";
import { useShotState } from "./document/context";
import { framePlayed } from "./playing";
import { look, useView } from "./view";

/** Play in real time: the clock says which frame it is, slow drawing drops frames instead of time. */
export function usePlayback(): void {
  const playing = useView((s) => s.playing);
  const pace = useView((s) => s.pace);
  const format = useShotState((s) => s.shot?.format);
  const frames = format?.frames ?? 1;
  const fps = ((format?.rate?.num ?? 25) / (format?.rate?.den ?? 1)) * pace;
  useEffect(() => {
    if (!playing) return;
    const { frame, loop, range } = useView.getState();
    const [first, last] = range ?? [0, frames - 1];
    const inside = frame >= first && (loop ? frame <= last : frame < last);
    const from = inside ? frame : first;
    const begun = performance.now();
    let asked = requestAnimationFrame(function step(now) {
      const gone = Math.max(0, Math.floor(((now - begun) / 1000) * fps));
      const next = framePlayed(from, gone, useView.getState().range ?? [0, frames - 1], useView.getState());
      if (next === null) {
        look({ frame: last, playing: false });
        return;
      }
      if (next !== useView.getState().frame) look({ frame: next });
      asked = requestAnimationFrame(step);
    });
    return () => cancelAnimationFrame(asked);
  }, [playing, frames, fps]);
}
