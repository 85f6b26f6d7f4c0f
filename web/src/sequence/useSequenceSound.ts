import { useEffect, useRef } from "react";
import { useOpen, useSequenceState } from "./context";
import { useSequenceView } from "./view";

const SECONDS = 60;

/** What is heard while a sequence plays: mixed by the core, as it will be delivered. */
export function useSequenceSound(): void {
  const { id, document } = useOpen();
  const pictures = useSequenceState((s) => s.pictures);
  const playing = useSequenceView((s) => s.playing);
  const fps = (document.rate?.num ?? 25) / (document.rate?.den ?? 1);
  const context = useRef<AudioContext | null>(null);
  useEffect(() => {
    if (!playing) return;
    context.current ??= new AudioContext();
    const { current } = context;
    const stop = new AbortController();
    let source: AudioBufferSourceNode | null = null;
    const first = useSequenceView.getState().frame;
    void (async () => {
      try {
        const answer = await fetch(`/api/sequences/${id}/sound?first=${first}&seconds=${SECONDS}`, {
          signal: stop.signal,
        });
        if (!answer.ok) return;
        const buffer = await current.decodeAudioData(await answer.arrayBuffer());
        if (stop.signal.aborted) return;
        source = current.createBufferSource();
        source.buffer = buffer;
        source.connect(current.destination);
        await current.resume();
        // It takes a moment to arrive: it begins where the picture is by then.
        source.start(0, Math.max(0, (useSequenceView.getState().frame - first) / fps));
      } catch {
        // Stopped before it arrived.
      }
    })();
    return () => {
      stop.abort();
      source?.stop();
    };
  }, [playing, id, fps, pictures]);
  useEffect(() => () => void context.current?.close(), []);
}
