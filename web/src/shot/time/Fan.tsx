import { useRef } from "react";
import { useAt, useSession, useShotState } from "../document/context";
import type { Schemas } from "../../api/client";
import { spanned } from "./fans";
import { toX, type Scale } from "./scale";

export type FanFacts = Schemas["FanFacts"];

interface Props {
  thing: string;
  fan: FanFacts;
  scale: Scale;
}

const NONE: FanFacts[] = [];

/** The fans of a thing: when each letter of its sets does what the set does. */
export const useFans = (thing: string | null): FanFacts[] =>
  useShotState((s) => (thing ? (s.scene?.facts.titles[thing]?.fans ?? NONE) : NONE));

/** One fine line a letter, from when it begins to when it is done; dragged, it opens or closes. */
export function FanRow({ thing, fan, scale }: Props) {
  const session = useSession();
  const at = `/things/${thing}/sets/${fan.set}/timing`;
  const order = String(useAt(`${at}/order`) ?? "");
  const length = useAt(`${at}/length`);
  const delay = Number(useAt(`${at}/delay`) ?? 0);
  const total = Number(useAt(`${at}/total`) ?? 0);
  const drag = useRef<{ x: number; span: number; gesture: string } | null>(null);
  const stays = length === "stays";
  const span = stays ? total : delay * fan.steps;
  const height = Math.max(22, Math.min(64, fan.starts.length * 3 + 8));
  const step = (height - 8) / Math.max(1, fan.starts.length - 1);
  const perFrame = toX(scale, 1) - toX(scale, 0);
  const put = (next: number, gesture?: string) => {
    const { name, value } = spanned(next, stays, fan.steps);
    session.edit([{ op: "replace", path: `${at}/${name}`, value }], gesture);
  };
  const latest = Math.max(...fan.starts);
  return (
    <div
      className="time-row fan-row"
      style={{ height }}
      role="row"
      aria-label={`When each letter of set ${fan.set + 1} begins`}
    >
      <div className="time-names strand-name" role="cell">
        <span>
          set {fan.set + 1} · {order}
        </span>
      </div>
      <div role="cell">
        <svg className="track fan" width={scale.width} height={height}>
          {fan.starts.map((start, i) => (
            <g key={i} className={start === latest ? "late" : undefined}>
              <line
                x1={toX(scale, start)}
                x2={toX(scale, fan.ends[i]!)}
                y1={4 + i * step}
                y2={4 + i * step}
              />
              <circle cx={toX(scale, start)} cy={4 + i * step} r={1.4} />
            </g>
          ))}
          <rect
            className="fan-grip"
            x={Math.min(toX(scale, Math.min(...fan.starts)), toX(scale, Math.max(...fan.ends)))}
            y={0}
            width={Math.max(12, toX(scale, Math.max(...fan.ends)) - toX(scale, Math.min(...fan.starts)))}
            height={height}
            role="slider"
            tabIndex={0}
            data-arrows
            aria-label={`Delay of set ${fan.set + 1}`}
            aria-valuenow={Number(span.toFixed(2))}
            aria-valuemin={0}
            aria-valuetext={`${span.toFixed(1)} frames from the first to the last`}
            onPointerDown={(e) => {
              e.currentTarget.setPointerCapture(e.pointerId);
              drag.current = { x: e.clientX, span, gesture: crypto.randomUUID() };
            }}
            onPointerMove={(e) => {
              if (drag.current)
                put(drag.current.span + (e.clientX - drag.current.x) / perFrame, drag.current.gesture);
            }}
            onPointerUp={() => (drag.current = null)}
            onPointerCancel={() => (drag.current = null)}
            onKeyDown={(e) => {
              if (e.key === "ArrowRight") put(span + 1);
              if (e.key === "ArrowLeft") put(span - 1);
            }}
          >
            <title>Drag to spread the letters in time, or to bring them together</title>
          </rect>
        </svg>
      </div>
    </div>
  );
}
