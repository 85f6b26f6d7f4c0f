import { useEffect, useRef, useState } from "react";
import { fetchAhead } from "../../shot/document/ahead";
import { fetchBodies, fetchScene, firstBodies, type Scene } from "../../shot/document/scene";
import { LiveStage } from "../../shot/picture/live/stage";

/**
 * A shot's live picture within a sequence. One that is not seen is drawn once, quickly, so that it is ready
 * when it comes.
 */
export function LiveShot(props: {
  shot: string;
  revision: number;
  aspect: number;
  frame: number;
  seen: boolean;
  onReady: (shot: string, ready: boolean) => void;
}) {
  const { shot, revision, aspect, frame, seen, onReady } = props;
  const canvas = useRef<HTMLCanvasElement>(null);
  const stage = useRef<LiveStage | null>(null);
  const at = useRef(frame);
  at.current = frame;
  const scene = useScene(shot, revision, frame);

  useEffect(() => {
    const target = canvas.current!;
    let made: LiveStage;
    try {
      made = new LiveStage(target, shot);
    } catch {
      // No WebGL here: pictures that are kept do.
      return;
    }
    stage.current = made;
    made.onDrawn = (_, drawn) => {
      target.dataset.drawn = String(drawn);
      onReady(shot, true);
    };
    made.onLacking = (names) => {
      fetchBodies(names).then(
        (came) => came && made.draw(),
        () => {},
      );
    };
    const box = new ResizeObserver(() => {
      const { clientWidth: w, clientHeight: h } = target.parentElement!;
      if (w && h) made.size(Math.min(w, h * aspect), Math.min(h, w / aspect));
    });
    box.observe(target.parentElement!);
    return () => {
      stage.current = null;
      box.disconnect();
      onReady(shot, false);
      made.dispose();
    };
  }, [shot, aspect, onReady]);

  useEffect(() => {
    if (scene) stage.current?.show(scene, frame);
  }, [scene, frame, aspect]);
  // The picture that is seen is not refined: the traced one is on its way.
  useEffect(() => stage.current?.lookedAt(seen ? "passes" : "elsewhere"), [seen, aspect]);
  useEffect(() => {
    if (!scene) return;
    const stop = new AbortController();
    fetchAhead(scene, stop.signal, () => at.current).catch(() => {});
    return () => stop.abort();
  }, [scene]);

  return <canvas ref={canvas} className={seen ? "live" : "live unseen"} data-shot={shot} />;
}

/** A shot as the core evaluates it, around the frame that is looked at. */
function useScene(shot: string, revision: number, frame: number): Scene | null {
  const [scene, setScene] = useState<Scene | null>(null);
  const there = scene !== null && scene.revision >= revision && scene.covers(frame);
  const at = useRef(frame);
  at.current = frame;
  useEffect(() => {
    if (there) return;
    const stop = new AbortController();
    const fetched = async () => {
      const came = await fetchScene(shot, Math.round(at.current), stop.signal);
      await fetchBodies(firstBodies(came), stop.signal);
      if (!stop.signal.aborted) setScene(came);
    };
    // A shot that is gone, or a server that is away, leaves the pictures that are kept.
    fetched().catch(() => {});
    return () => stop.abort();
    // One that came too late, for a frame that is past, is asked for again.
  }, [shot, revision, there, scene]);
  return scene;
}
