import { useRef } from "react";
import type { Schemas } from "../../api/client";
import { useHeard } from "../../api/sounds";
import { useAt, useFormat, useSession } from "../document/context";
import { point } from "../view";
import { toFrame, toX, type Scale } from "./scale";
import { HEIGHT, outline } from "./waveOutline";

type Sound = Schemas["Sound"];

/** The wave of a sound in its row; dragged, it begins elsewhere. */
export function SoundWave({ id, scale }: { id: string; scale: Scale }) {
  const session = useSession();
  const sound = useAt(`/sounds/${id}`) as Sound | undefined;
  const { rate } = useFormat();
  const heard = useHeard(sound?.file ?? "");
  const drag = useRef<{ x: number; from: number; gesture: string } | null>(null);
  if (!sound || !heard) return null;
  const fps = rate.num / rate.den;
  const { start = 0, skip = 0 } = sound;
  const frames = (heard.peaks.length / 2 / heard.moments - skip) * fps;
  return (
    <g
      className={`sound-wave${sound.on === false ? " off" : ""}`}
      role="button"
      aria-label={`${sound.name} begins at frame ${start}`}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        point(`sound:${id}`);
        drag.current = { x: event.clientX, from: start, gesture: crypto.randomUUID() };
      }}
      onPointerMove={(event) => {
        const d = drag.current;
        if (!d || Math.abs(event.clientX - d.x) < 2) return;
        const by = toFrame(scale, event.clientX - d.x) - toFrame(scale, 0);
        const value = event.altKey ? Number((d.from + by).toFixed(2)) : Math.round(d.from + by);
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
      >
        <title>Drag to let it begin elsewhere; with Alt between frames</title>
      </rect>
      <path d={outline(heard, sound, scale, fps)} />
      {heard.beats.map((second) => {
        const x = toX(scale, start + (second - skip) * fps);
        return second < skip ? null : <line key={second} x1={x} x2={x} y1={HEIGHT - 5} y2={HEIGHT - 1} />;
      })}
    </g>
  );
}
