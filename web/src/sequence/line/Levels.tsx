import { useRef, type PointerEvent } from "react";
import { toFrame, toX, type Scale } from "../../shot/time/scale";
import { useOpen, useSequenceSession } from "../context";
import { see } from "../view";
import { levelsOf, movedLevel, toGain, toY, withLevel, type Level } from "./levels";

/** How loud a sound is over time, as a line: a double click sets a level, which is dragged. */
export function Levels({ id, scale, frames }: { id: string; scale: Scale; frames: number }) {
  const session = useSequenceSession();
  const { document } = useOpen();
  const sound = document.sounds![id]!;
  const start = sound.start ?? 0;
  const levels = levelsOf(sound);
  const drag = useRef<{ index: number; from: Level[]; gesture: string } | null>(null);

  const at = (event: { clientX: number; clientY: number; currentTarget: Element }) => {
    const box = event.currentTarget.closest("svg")!.getBoundingClientRect();
    const frame = Math.round(toFrame(scale, event.clientX - box.left) - start);
    return { frame: Math.max(0, frame), gain: toGain(event.clientY - box.top) };
  };
  const take = (next: Level[], gesture?: string) =>
    session.edit([{ op: "replace", path: `/sounds/${id}/levels`, value: next }], gesture);
  const grab = (event: PointerEvent<SVGElement>, index: number) => {
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    see({ chosen: { kind: "sound", id } });
    drag.current = { index, from: levels, gesture: crypto.randomUUID() };
  };

  const ends = [
    { frame: 0, gain: levels[0]?.gain ?? 0 },
    ...levels,
    { frame: frames, gain: levels.at(-1)?.gain ?? 0 },
  ];
  const path = ends
    .map(({ frame, gain }) => `${toX(scale, start + frame).toFixed(1)},${toY(gain)}`)
    .join(" ");
  return (
    <g className="sound-levels">
      <polyline
        className="grasp"
        points={path}
        onDoubleClick={(event) => {
          const { frame, gain } = at(event);
          take(withLevel(levels, frame, gain));
        }}
      />
      <polyline points={path} />
      {levels.map(({ frame, gain }, index) => (
        <circle
          key={index}
          role="slider"
          tabIndex={0}
          aria-label={`Level at frame ${start + frame}`}
          aria-valuemin={-60}
          aria-valuemax={12}
          aria-valuenow={gain}
          aria-valuetext={`${gain.toFixed(1)} dB`}
          cx={toX(scale, start + frame)}
          cy={toY(gain)}
          r={4}
          onPointerDown={(event) => grab(event, index)}
          onPointerMove={(event) => {
            const d = drag.current;
            if (!d) return;
            const to = at(event);
            take(movedLevel(d.from, d.index, to.frame, to.gain), d.gesture);
          }}
          onPointerUp={() => (drag.current = null)}
          onPointerCancel={() => (drag.current = null)}
          onDoubleClick={() => take(levels.filter((_, k) => k !== index))}
          onKeyDown={(event) => {
            const by = { ArrowUp: 0.5, ArrowDown: -0.5 }[event.key];
            if (event.key === "Delete" || event.key === "Backspace")
              take(levels.filter((_, k) => k !== index));
            else if (by) take(movedLevel(levels, index, frame, Math.max(-60, Math.min(12, gain + by))));
            else return;
            event.preventDefault();
            event.stopPropagation();
          }}
        >
          <title>{`${gain.toFixed(1)} dB; a double click takes it away`}</title>
        </circle>
      ))}
    </g>
  );
}
