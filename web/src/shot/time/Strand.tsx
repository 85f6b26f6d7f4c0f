import { useRef, useState, type CSSProperties, type PointerEvent } from "react";
import { useKeys, useSession, useShotState } from "../document/context";
import { keysOf, setKey, writeKeys, type Key } from "../document/values";
import { easedBy, handlesOf } from "../document/handles";
import { look, useView, type ChosenKey } from "../view";
import { KeyShape } from "./KeyShape";
import { toFrame, toX, type Scale } from "./scale";
import { placesIn, snapped } from "./snapping";

export const STRAND = 62;
const AIR = 12;

/** From this height on a strand shows how fast its value moves, too. */
export const SPEEDS = 100;

interface Range {
  low: number;
  high: number;
  /** Pixels from top to bottom. */
  tall: number;
}

const toY = ({ low, high, tall }: Range, value: number) =>
  tall - AIR - ((value - low) / (high - low)) * (tall - 2 * AIR);
const toValue = ({ low, high, tall }: Range, y: number) =>
  low + ((tall - AIR - y) / (tall - 2 * AIR)) * (high - low);

function rangeOf(values: ArrayLike<number>, tall: number): Range {
  let [low, high] = [Infinity, -Infinity];
  for (let i = 0; i < values.length; i++) {
    low = Math.min(low, values[i]!);
    high = Math.max(high, values[i]!);
  }
  if (!(high - low > 1e-9)) return { low: (low || 0) - 1, high: (high || 0) + 1, tall };
  return { low, high, tall };
}

/** One keyed value as its true curve, edited where it stands. */
export function Strand({
  pointer,
  scale,
  frames,
  name,
  tall = STRAND,
  hue,
}: {
  pointer: string;
  scale: Scale;
  frames: number;
  name: string;
  tall?: number;
  /** Its colour, where several lie over one another. */
  hue?: number;
}) {
  const session = useSession();
  const keys = useKeys(pointer);
  const baked = useShotState((s) => s.scene?.channel(pointer));
  const from = useShotState((s) => s.scene?.channelFrom ?? 0);
  const chosen = useView((s) => s.chosen);
  const held = useRef<Range | null>(null);
  const [, settle] = useState(0);
  const range = held.current ?? rangeOf(baked ?? keys.map((key) => key.value), tall);

  /** While something is dragged the scale of the strand stays as it is. */
  function hold(on: boolean) {
    held.current = on ? range : null;
    if (!on) settle((n) => n + 1);
  }
  const only =
    chosen.length === 1 && chosen[0]!.pointer === pointer
      ? keys.findIndex((key) => key.frame === chosen[0]!.frame)
      : -1;

  return (
    <svg
      className="strand"
      width={scale.width}
      height={tall}
      style={hue === undefined ? undefined : ({ "--hue": hue } as CSSProperties)}
      onDoubleClick={(e) => {
        const at = Math.max(
          0,
          Math.min(
            frames - 1,
            Math.round(toFrame(scale, e.clientX - e.currentTarget.getBoundingClientRect().left)),
          ),
        );
        const value = baked?.[at - from];
        if (value === undefined || keys.some((key) => key.frame === at)) return;
        session.edit(setKey(session.store.getState().shot!, pointer, at, Number(value.toPrecision(6))));
        look({ chosen: [{ pointer, frame: at }] });
      }}
    >
      {baked && tall >= SPEEDS && <path className="speed" d={speed(baked, from, scale, tall)} />}
      {baked && <path className="curve" d={curve(baked, from, scale, range)} />}
      {only >= 0 &&
        only + 1 < keys.length &&
        ["cubic-bezier", "handles"].includes(keys[only]!.ease!.kind!) && (
          <EaseHandles keys={keys} index={only} pointer={pointer} scale={scale} range={range} onHold={hold} />
        )}
      {/* By place, not by frame: a key being dragged must stay the same element. */}
      {keys.map((key, place) => (
        <StrandKey
          key={place}
          pointer={pointer}
          item={key}
          name={name}
          scale={scale}
          range={range}
          frames={frames}
          chosen={chosen.some((c) => c.pointer === pointer && c.frame === key.frame)}
          onHold={hold}
        />
      ))}
    </svg>
  );
}

/**
 * Path through the baked values, the first of them that of frame `from`; a long shot is thinned to what
 * pixels can show.
 */
function curve(values: Float32Array, from: number, scale: Scale, range: Range): string {
  const first = Math.max(from, Math.floor(scale.from) - 1);
  const last = Math.min(from + values.length - 1, Math.ceil(scale.to) + 1);
  const step = Math.max(1, Math.floor((last - first) / 2000));
  let d = "";
  for (let f = first; f <= last; f += step)
    d += `${d ? "L" : "M"}${toX(scale, f).toFixed(1)} ${toY(range, values[f - from]!).toFixed(1)}`;
  return d;
}

/** How fast the value moves from frame to frame, either way: its own curve from the foot of the strand. */
function speed(values: Float32Array, from: number, scale: Scale, tall: number): string {
  const steps = Float32Array.from(values, (value, k) => Math.abs((values[k + 1] ?? value) - value));
  return curve(steps, from, scale, { low: 0, high: steps.reduce((a, b) => Math.max(a, b), 1e-9), tall });
}

interface StrandKeyProps {
  pointer: string;
  item: Key;
  name: string;
  scale: Scale;
  range: Range;
  frames: number;
  chosen: boolean;
  onHold: (hold: boolean) => void;
}

function StrandKey({ pointer, item, name, scale, range, frames, chosen, onHold }: StrandKeyProps) {
  const drag = useKeyDrag(frames);
  return (
    <KeyShape
      x={toX(scale, item.frame)}
      y={toY(range, item.value)}
      ease={item.ease!.kind!}
      chosen={chosen}
      label={`Key of ${name} at frame ${item.frame}`}
      keys={[{ pointer, frame: item.frame }]}
      onPointerDown={(e) => {
        onHold(true);
        drag.start(e, { pointer, frame: item.frame }, scale, range);
      }}
      onPointerMove={drag.move}
      onPointerUp={() => {
        onHold(false);
        drag.end();
      }}
    />
  );
}

/**
 * Drag chosen keys: all of them along time, the one under the pointer in value too. That one snaps, unless
 * Alt is held.
 */
export function useKeyDrag(frames: number) {
  const session = useSession();
  const drag = useRef<{
    x: number;
    y: number;
    grabbed: ChosenKey;
    keys: ChosenKey[];
    before: Map<string, Key[]>;
    places: number[];
    scale: Scale;
    range: Range | null;
    gesture: string;
    moved: boolean;
  } | null>(null);

  return {
    start(
      event: PointerEvent<SVGElement>,
      grabbed: ChosenKey,
      scale: Scale,
      range: Range | null,
      together: ChosenKey[] = [grabbed],
    ) {
      event.stopPropagation();
      event.currentTarget.setPointerCapture(event.pointerId);
      const { chosen } = useView.getState();
      const has = (list: ChosenKey[], k: ChosenKey) =>
        list.some((c) => c.pointer === k.pointer && c.frame === k.frame);
      let keys = has(chosen, grabbed) ? chosen : event.shiftKey ? [...chosen, ...together] : together;
      if (event.shiftKey && has(chosen, grabbed)) keys = chosen.filter((c) => !has(together, c));
      look({ chosen: keys });
      const shot = session.store.getState().shot!;
      const before = new Map([...new Set(keys.map((k) => k.pointer))].map((p) => [p, keysOf(shot, p)]));
      drag.current = {
        x: event.clientX,
        y: event.clientY,
        grabbed,
        keys,
        before,
        places: placesIn(shot, frames, useView.getState().frame, {
          moving: (pointer, frame) => has(keys, { pointer, frame }),
        }),
        scale,
        range,
        gesture: crypto.randomUUID(),
        moved: false,
      };
    },
    move(event: PointerEvent<SVGElement>) {
      const d = drag.current;
      if (!d) return;
      const [dx, dy] = [event.clientX - d.x, event.clientY - d.y];
      if (!d.moved && Math.hypot(dx, dy) < 3) return;
      d.moved = true;
      const low = Math.min(...d.keys.map((k) => k.frame));
      const high = Math.max(...d.keys.map((k) => k.frame));
      const raw = toFrame(d.scale, dx) - toFrame(d.scale, 0);
      const wished = event.altKey
        ? Math.round(raw)
        : snapped(d.scale, d.places, d.grabbed.frame + raw) - d.grabbed.frame;
      const by = Math.max(-low, Math.min(frames - 1 - high, wished));
      const lift = d.range && Math.abs(dy) > 4 ? toValue(d.range, dy) - toValue(d.range, 0) : 0;
      const patch = [...d.before].flatMap(([pointer, keys]) => {
        const isMoving = (key: Key) => d.keys.some((k) => k.pointer === pointer && k.frame === key.frame);
        const still = keys.filter((key) => !isMoving(key));
        const moving = keys.filter(isMoving).map((key) => ({
          ...key,
          frame: key.frame + by,
          value:
            d.grabbed.pointer === pointer && d.grabbed.frame === key.frame
              ? Number((key.value + lift).toPrecision(6))
              : key.value,
        }));
        return writeKeys(pointer, [...still, ...moving]);
      });
      session.edit(patch, d.gesture);
      look({ chosen: d.keys.map((k) => ({ ...k, frame: k.frame + by })) });
    },
    end() {
      drag.current = null;
    },
  };
}

interface HandleProps {
  keys: Key[];
  index: number;
  pointer: string;
  scale: Scale;
  range: Range;
  onHold: (hold: boolean) => void;
}

/** The two handles of a way from key to key, on the curve itself. */
function EaseHandles({ keys, index, pointer, scale, range, onHold }: HandleProps) {
  const session = useSession();
  const drag = useRef<{ which: 1 | 2; gesture: string } | null>(null);
  const [a, b] = [keys[index]!, keys[index + 1]!];
  const ease = a.ease!;
  const x = (t: number) => toX(scale, a.frame + t * (b.frame - a.frame));
  const handles = handlesOf(a, b);
  const leaving = { x: x(handles.x1), y: toY(range, a.value + handles.out) };
  const reaching = { x: x(handles.x2), y: toY(range, b.value + handles.back) };
  const way = b.value - a.value;
  // An ease tells shares of the way; where there is none, or it has handles already, values tell it.
  const byShare = ease.kind === "cubic-bezier" && Math.abs(way) > 1e-9;

  function move(event: PointerEvent<SVGCircleElement>) {
    const d = drag.current;
    const svg = event.currentTarget.ownerSVGElement;
    if (!d || !svg) return;
    const rect = svg.getBoundingClientRect();
    const t = (toFrame(scale, event.clientX - rect.left) - a.frame) / (b.frame - a.frame);
    const value = toValue(range, event.clientY - rect.top);
    const round = (n: number) => Number(n.toFixed(3));
    const time = { [`x${d.which}`]: round(Math.max(0, Math.min(1, t))) };
    const far = Number((value - (d.which === 1 ? a : b).value).toPrecision(6));
    const next = byShare
      ? { ...ease, ...time, [`y${d.which}`]: round(Math.max(-4, Math.min(4, (value - a.value) / way))) }
      : easedBy(ease, { ...handles, ...time, [d.which === 1 ? "out" : "back"]: far });
    session.edit(
      writeKeys(
        pointer,
        keys.map((key, i) => (i === index ? { ...key, ease: next } : key)),
      ),
      d.gesture,
    );
  }

  return (
    <g className="ease">
      <path
        d={`M${x(0)} ${toY(range, a.value)}L${leaving.x} ${leaving.y}M${x(1)} ${toY(range, b.value)}L${reaching.x} ${reaching.y}`}
      />
      {([1, 2] as const).map((which) => (
        <circle
          key={which}
          cx={(which === 1 ? leaving : reaching).x}
          cy={(which === 1 ? leaving : reaching).y}
          r={4}
          aria-label={which === 1 ? "Handle leaving the key" : "Handle reaching the next key"}
          onPointerDown={(e) => {
            e.stopPropagation();
            e.currentTarget.setPointerCapture(e.pointerId);
            onHold(true);
            drag.current = { which, gesture: crypto.randomUUID() };
          }}
          onPointerMove={move}
          onPointerUp={() => {
            drag.current = null;
            onHold(false);
          }}
        />
      ))}
    </g>
  );
}
