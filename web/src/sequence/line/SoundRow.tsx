import { useRef } from "react";
import { useHeard } from "../../api/sounds";
import { toFrame, toX, type Scale } from "../../shot/time/scale";
import { HEIGHT, outline } from "../../shot/time/waveOutline";
import { useOpen, useSequenceSession } from "../context";
import { see, useSequenceView } from "../view";
import { Levels } from "./Levels";

/** A sound under the line, with its wave; dragged, it begins elsewhere. */
export function SoundRow({ id, scale }: { id: string; scale: Scale }) {
  const session = useSequenceSession();
  const { document } = useOpen();
  const sound = document.sounds![id]!;
  const heard = useHeard(sound.file ?? "");
  const chosen = useSequenceView((s) => s.chosen?.kind === "sound" && s.chosen.id === id);
  const drag = useRef<{ x: number; from: number; gesture: string } | null>(null);
  const fps = (document.rate?.num ?? 25) / (document.rate?.den ?? 1);
  const { start = 0, skip = 0 } = sound;
  const frames = heard ? (heard.peaks.length / 2 / heard.moments - skip) * fps : 50;
  return (
    <svg className="sequence-sound" width={scale.width} height={HEIGHT}>
      <g
        className={`sound-wave${sound.on === false ? " off" : ""}${chosen ? " chosen" : ""}`}
        role="button"
        tabIndex={0}
        aria-label={`${sound.name} begins at frame ${start}`}
        onKeyDown={(event) => event.key === "Enter" && see({ chosen: { kind: "sound", id } })}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          see({ chosen: { kind: "sound", id } });
          drag.current = { x: event.clientX, from: start, gesture: crypto.randomUUID() };
        }}
        onPointerMove={(event) => {
          const d = drag.current;
          if (!d || Math.abs(event.clientX - d.x) < 2) return;
          const by = toFrame(scale, event.clientX - d.x) - toFrame(scale, 0);
          const value = Math.round(d.from + by);
          session.edit([{ op: "replace", path: `/sounds/${id}/start`, value }], d.gesture);
        }}
        onPointerUp={() => (drag.current = null)}
        onPointerCancel={() => (drag.current = null)}
      >
        <rect
          x={toX(scale, start)}
          y={1}
          width={Math.max(1, toX(scale, start + frames) - toX(scale, start))}
          height={HEIGHT - 2}
        />
        {heard && <path d={outline(heard, sound, scale, fps)} />}
      </g>
      <Levels {...{ id, scale, frames }} />
      <text x={toX(scale, Math.max(start, scale.from)) + 6} y={11}>
        {sound.name}
      </text>
    </svg>
  );
}
