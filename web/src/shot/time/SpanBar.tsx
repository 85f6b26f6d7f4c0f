import { useRef, useState, type PointerEvent } from "react";
import type { Schemas } from "../../api/client";
import { useAt, useFormat, useSession } from "../document/context";
import { useView } from "../view";
import { toFrame, toX, type Scale } from "./scale";
import { placesIn, snapped } from "./snapping";
import { useSpans } from "./useSpans";

type Span = Schemas["Span"];
type Grip = "start" | "end" | "arrival" | "departure" | "all";

interface Extent {
  start: number;
  end: number;
  arrival: number;
  departure: number;
}

/**
 * From where to where a thing is there, over its row: ends, arrival and departure are dragged, the middle
 * moves all.
 */
export function SpanBar({ thing, name, scale }: { thing: string; name: string; scale: Scale }) {
  const span = useAt(`/things/${thing}/span`) as Span | undefined;
  const { frames } = useFormat();
  const session = useSession();
  const { put } = useSpans();
  const drag = useRef<{ x: number; grip: Grip; from: Extent } | null>(null);
  const [shown, setShown] = useState<Extent | null>(null);
  if (!span) return null;
  const stored: Extent = {
    start: span.whole ? 0 : span.start!,
    end: span.whole ? frames : span.end!,
    arrival: span.arrival!,
    departure: span.departure!,
  };
  const now = shown ?? stored;

  function moved(grip: Grip, from: Extent, by: number, free: boolean): Extent {
    const { shot } = session.store.getState();
    const places = shot && !free ? placesIn(shot, frames, useView.getState().frame, { thing }) : [];
    const near = (frame: number) => snapped(scale, places, frame);
    const long = from.end - from.start;
    if (grip === "start")
      return { ...from, start: Math.max(0, Math.min(from.end - 1, near(from.start + by))) };
    if (grip === "end") return { ...from, end: Math.max(from.start + 1, near(from.end + by)) };
    if (grip === "arrival")
      return {
        ...from,
        arrival: Math.max(0, Math.min(long, near(from.start + from.arrival + by) - from.start)),
      };
    if (grip === "departure")
      return {
        ...from,
        departure: Math.max(0, Math.min(long, from.end - near(from.end - from.departure + by))),
      };
    const start = Math.max(0, near(from.start + by));
    return { ...from, start, end: start + long };
  }

  const grips = (grip: Grip) => ({
    onPointerDown(event: PointerEvent<SVGElement>) {
      event.stopPropagation();
      event.currentTarget.setPointerCapture(event.pointerId);
      drag.current = { x: event.clientX, grip, from: stored };
    },
    onPointerMove(event: PointerEvent<SVGElement>) {
      const d = drag.current;
      if (!d || Math.abs(event.clientX - d.x) < 2) return;
      setShown(moved(d.grip, d.from, toFrame(scale, event.clientX - d.x) - toFrame(scale, 0), event.altKey));
    },
    async onPointerUp(event: PointerEvent<SVGElement>) {
      const ripple = event.shiftKey;
      drag.current = null;
      if (!shown) return;
      if (grip === "arrival" || grip === "departure")
        session.edit([{ op: "replace", path: `/things/${thing}/span/${grip}`, value: shown[grip] }]);
      else if (shown.start !== stored.start || shown.end !== stored.end) {
        await put(thing, shown.start, shown.end, ripple);
        await session.drawnUp();
      }
      setShown(null);
    },
    onPointerCancel() {
      drag.current = null;
      setShown(null);
    },
  });

  const [left, right] = [toX(scale, now.start), toX(scale, now.end)];
  const [comes, leaves] = [toX(scale, now.start + now.arrival), toX(scale, now.end - now.departure)];
  return (
    <g className={`span${span.whole && !shown ? " whole" : ""}`} aria-label={`When ${name} is there`}>
      {(!span.whole || shown) && (
        <rect
          className="span-held"
          x={left}
          y={3}
          width={Math.max(1, right - left)}
          height={22}
          {...grips("all")}
        >
          <title>
            Drag to move it in time; with Shift what comes later moves along, with Alt it does not snap
          </title>
        </rect>
      )}
      {now.arrival > 0 && <path className="span-way" d={`M${left} 25L${comes} 3`} />}
      {now.departure > 0 && <path className="span-way" d={`M${leaves} 3L${right} 25`} />}
      <Grip x={comes} label={`Arrival of ${name}`} hollow {...grips("arrival")} />
      <Grip x={leaves} label={`Departure of ${name}`} hollow {...grips("departure")} />
      <Grip x={left} label={`Beginning of ${name}`} {...grips("start")} />
      <Grip x={right} label={`End of ${name}`} {...grips("end")} />
    </g>
  );
}

interface GripProps {
  x: number;
  label: string;
  hollow?: boolean;
  onPointerDown: (event: PointerEvent<SVGElement>) => void;
  onPointerMove: (event: PointerEvent<SVGElement>) => void;
  onPointerUp: (event: PointerEvent<SVGElement>) => void;
  onPointerCancel: () => void;
}

function Grip({ x, label, hollow, ...pointer }: GripProps) {
  return (
    <g
      className={`span-grip${hollow ? " hollow" : ""}`}
      transform={`translate(${x} 0)`}
      aria-label={label}
      {...pointer}
    >
      {hollow ? <path d="M-4 0H4L0 5Z" /> : <path d="M0 3V25" />}
      <rect className="catch" x={-5} y={hollow ? -1 : 6} width={10} height={hollow ? 7 : 19} />
      <title>{label}</title>
    </g>
  );
}
