import { useEffect } from "react";
import { useShotState } from "./document/context";
import { look, useView } from "./view";

/** Play in real time: the clock says which frame it is, slow drawing drops frames instead of time. */
export function usePlayback(): void {
  const playing = useView((s) => s.playing);
  const format = useShotState((s) => s.shot?.format);
  const frames = format?.frames ?? 1;
  const fps = (format?.rate?.num ?? 25) / (format?.rate?.den ?? 1);
  useEffect(() => {
    if (!playing) return;
    const { frame, loop } = useView.getState();
    const from = !loop && frame >= frames - 1 ? 0 : frame;
    const begun = performance.now();
    let asked = requestAnimationFrame(function step(now) {
      const gone = Math.floor(((now - begun) / 1000) * fps);
      const at = from + Math.max(0, gone);
      if (!useView.getState().loop && at >= frames - 1) {
        look({ frame: frames - 1, playing: false });
        return;
      }
      const next = at % frames;
      if (next !== useView.getState().frame) look({ frame: next });
      asked = requestAnimationFrame(step);
    });
    return () => cancelAnimationFrame(asked);
  }, [playing, frames, fps]);
}
