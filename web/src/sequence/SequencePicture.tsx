import { useEffect, useRef } from "react";
import { useOpen } from "./context";
import { LiveShots, useLiveShots } from "./live/LiveShots";
import { lacking, type Stretch } from "./live/stretches";
import { useKept, usePictures } from "./usePictures";
import { usePanning } from "./usePanning";
import { see, useSequenceView } from "./view";

/** The present frame of the sequence, and what it is made from. */
export function SequencePicture() {
  const { document, total, lost } = useOpen();
  const frame = useSequenceView((s) => s.frame);
  const drafting = useSequenceView((s) => s.drafting);
  const version = useSequenceView((s) => s.version);
  const { width, height } = document.versions?.find(({ name }) => name === version) ?? document;
  const { frames, count } = usePictures();
  const kept = useKept();
  const canvas = useRef<HTMLCanvasElement>(null);
  const there = frames.has(frame);
  const ready = kept.reduce((sum, [a, b]) => sum + b - a + 1, 0);
  const playing = useSequenceView((s) => s.playing);
  // Versions have words and shapes of their own, which shots do not show.
  const live = useLiveShots(version === "" && ready < total);
  const lively = !there && live.ready;

  useEffect(() => {
    const bitmap = frames.get(frame);
    const { current } = canvas;
    if (!current || !bitmap) return;
    if (current.width !== bitmap.width || current.height !== bitmap.height)
      [current.width, current.height] = [bitmap.width, bitmap.height];
    current.getContext("2d")!.drawImage(bitmap, 0, 0);
  }, [frames, frame, count]);

  return (
    <section className="sequence-picture" aria-label="Picture">
      <div
        className="sequence-frame"
        style={{ aspectRatio: `${width} / ${height}` }}
        data-drawn={there ? frame : undefined}
        {...usePanning(width ?? 16, height ?? 9)}
      >
        <canvas ref={canvas} className={there ? "" : "stale"} />
        <LiveShots held={live.held} stretch={live.stretch} seen={lively} onReady={live.onReady} />
        {lost && <div className="sequence-hint">{lost}</div>}
        {total === 0 && (
          <div className="sequence-hint muted">Put a shot on the line: choose one on the right.</div>
        )}
      </div>
      <div className="sequence-gauges" role="status">
        {total > 0 && (
          <>
            <span>
              {there ? "kept picture, draft quality" : told(lively ? live.stretch : undefined, playing)}
            </span>
            <span className="mono">
              {ready} of {total} frames ready
            </span>
            <label>
              <input
                type="checkbox"
                checked={drafting}
                onChange={(e) => see({ drafting: e.target.checked })}
              />
              make the others meanwhile
            </label>
          </>
        )}
      </div>
    </section>
  );
}

/** What a frame that is not kept is seen by. */
function told(stretch: Stretch | undefined, playing: boolean): string {
  const traced = playing ? [] : ["this frame is being traced …"];
  return [...(stretch ? [`live view${lacking(stretch)}`] : []), ...traced].join("; ") || "not traced yet";
}
