import { useEffect, useRef, useState, type PointerEvent } from "react";
import { timecode } from "../../parts/when";
import { Poster } from "../../productions/Poster";
import type { Operation } from "../../shot/document/patches";
import { markStep, MARGIN, toFrame, toX, zoomed, type Scale } from "../../shot/time/scale";
import { useOpen, useSequenceSession } from "../context";
import { overlapOf } from "../session";
import { useKept } from "../usePictures";
import { see, useSequenceView } from "../view";
import { dropIndex, moved, slipped, snapped, trimmedEnd, trimmedStart, type Piece } from "./geometry";
import { LaneRow } from "./LaneRow";
import { SoundRow } from "./SoundRow";

const NEAR = 7;

/** The sequence in time: ruler, lanes, the line of pieces, sounds. */
export function Line() {
  const { document, total, starts } = useOpen();
  const frame = useSequenceView((s) => s.frame);
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(900);
  const [shown, setShown] = useState<{ from: number; to: number } | null>(null);
  useEffect(() => {
    const { current } = box;
    if (!current) return;
    const watch = new ResizeObserver(() => setWidth(current.clientWidth));
    watch.observe(current);
    return () => watch.disconnect();
  }, []);
  const end = Math.max(25, total);
  const scale: Scale = { from: shown?.from ?? 0, to: Math.min(shown?.to ?? end, end), width };

  return (
    <div
      className="line-box"
      ref={box}
      onWheel={(event) => {
        const around = toFrame(scale, event.clientX - box.current!.getBoundingClientRect().left);
        if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
          const by = ((event.deltaX || event.deltaY) / width) * (scale.to - scale.from);
          const from = Math.max(0, Math.min(end - (scale.to - scale.from), scale.from + by));
          setShown({ from, to: from + scale.to - scale.from });
        } else {
          const next = zoomed(scale, end + 1, around, event.deltaY > 0 ? 1.15 : 1 / 1.15);
          setShown({ from: next.from, to: next.to });
        }
      }}
      onDoubleClick={(event) => event.target === box.current && setShown(null)}
    >
      <Ruler scale={scale} total={total} />
      {(document.lanes ?? []).map((lane, index) => (
        <LaneRow key={index} lane={lane} index={index} scale={scale} />
      ))}
      <div className="line-row" aria-label="Line" role="list">
        {(document.line ?? []).map((piece, index) => (
          <PieceBox key={index} piece={piece} index={index} start={starts[index]!} scale={scale} />
        ))}
      </div>
      {Object.keys(document.sounds ?? {}).map((id) => (
        <SoundRow key={id} id={id} scale={scale} />
      ))}
      <div className="line-now" style={{ left: toX(scale, frame) }} />
    </div>
  );
}

/** Timecodes; dragging scrubs. What is ready is a band over it. */
function Ruler({ scale, total }: { scale: Scale; total: number }) {
  const { document } = useOpen();
  const frame = useSequenceView((s) => s.frame);
  const kept = useKept();
  const scrubbing = useRef(false);
  const rate = document.rate as { num: number; den: number };
  const step = markStep(scale, rate.num / rate.den);
  const marks: number[] = [];
  for (let f = Math.ceil(scale.from / step) * step; f <= scale.to; f += step) marks.push(f);
  const scrub = (event: PointerEvent<SVGSVGElement>) => {
    const x = event.clientX - event.currentTarget.getBoundingClientRect().left;
    see({
      frame: Math.max(0, Math.min(Math.max(0, total - 1), Math.round(toFrame(scale, x)))),
      playing: false,
    });
  };
  return (
    <svg
      className="ruler"
      width={scale.width}
      height={26}
      role="slider"
      tabIndex={0}
      aria-label="Frame"
      aria-valuemin={0}
      aria-valuemax={Math.max(0, total - 1)}
      aria-valuenow={frame}
      aria-valuetext={timecode(frame, rate)}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        scrubbing.current = true;
        scrub(e);
      }}
      onPointerMove={(e) => scrubbing.current && scrub(e)}
      onPointerUp={() => (scrubbing.current = false)}
    >
      {kept.map(([first, last]) => (
        <rect
          key={first}
          className="traced-run"
          x={toX(scale, first)}
          width={Math.max(1, toX(scale, last + 1) - toX(scale, first))}
          y={0}
          height={3}
        >
          <title>{`Frames ${first} to ${last} are ready`}</title>
        </rect>
      ))}
      {(document.markers ?? []).map(({ frame: at = 0, name, note }, i) => (
        <g key={i} className="marker" transform={`translate(${toX(scale, at)} 0)`}>
          <path d="M-3.500 17H3.500V22L0 26L-3.500 22Z" />
          <title>{[name || `Marker ${i + 1}`, note].filter(Boolean).join(": ")}</title>
        </g>
      ))}
      {marks.map((f) => (
        <g key={f} transform={`translate(${toX(scale, f)} 0)`}>
          <line y1={18} y2={26} />
          <text x={3} y={14}>
            {timecode(f, rate).replace(/^00:/, "")}
          </text>
        </g>
      ))}
    </svg>
  );
}

type Part = "start" | "end" | "whole";

/** A piece on the line: dragged it goes elsewhere, at its ends it is trimmed, with Alt its shot slips. */
function PieceBox({
  piece,
  index,
  start,
  scale,
}: {
  piece: Piece;
  index: number;
  start: number;
  scale: Scale;
}) {
  const session = useSequenceSession();
  const { document, starts, shots, missing } = useOpen();
  const chosen = useSequenceView((s) => s.chosen?.kind === "piece" && s.chosen.index === index);
  const drag = useRef<{ x: number; part: Part; from: Piece; gesture: string; last: number } | null>(null);
  const [drop, setDrop] = useState<number | null>(null);
  const frames = piece.frames ?? 1;
  const overlap = index ? overlapOf(piece) : 0;
  const next = document.line![index + 1];
  const room = next ? overlapOf(next) : 0;
  const left = toX(scale, start);
  const width = toX(scale, start + frames) - left;
  const slope = (n: number) => `${(100 * n) / frames}%`;
  const shot = shots.find((one) => one.id === piece.shot);
  const name = piece.kind === "colour" ? piece.name || "Black" : (shot?.name ?? piece.name ?? "Shot");
  const gone = piece.kind === "shot" && missing.includes(piece.shot ?? "");

  function partAt(event: PointerEvent<HTMLElement>): Part {
    const x = event.clientX - event.currentTarget.getBoundingClientRect().left;
    if (width > 3 * NEAR && x < NEAR) return "start";
    return width > 3 * NEAR && x > width - NEAR ? "end" : "whole";
  }

  function onMove(event: PointerEvent<HTMLElement>) {
    const d = drag.current;
    if (!d) {
      event.currentTarget.style.cursor = partAt(event) === "whole" ? "grab" : "ew-resize";
      return;
    }
    const perFrame = toX(scale, 1) - toX(scale, 0);
    let by = (event.clientX - d.x) / perFrame;
    if (d.part === "whole" && !event.altKey) {
      const at = toFrame(
        scale,
        event.clientX - event.currentTarget.parentElement!.getBoundingClientRect().left,
      );
      setDrop(Math.abs(event.clientX - d.x) < 5 ? null : dropIndex(document, starts, index, at));
      return;
    }
    const places = [useSequenceView.getState().frame, ...(document.markers ?? []).map((m) => m.frame ?? 0)];
    const edge = d.part === "start" ? start : start + (d.from.frames ?? 1);
    if (d.part !== "whole") by = snapped(Math.round(edge + by), places, 5 / perFrame) - edge;
    if (Math.round(by) === d.last) return;
    d.last = Math.round(by);
    // Always from what it was when the gesture began; the last patch of a gesture wins.
    const at = `/line/${index}`;
    const patch =
      d.part === "whole"
        ? slipped(d.from, at, by)
        : d.part === "start"
          ? trimmedStart(d.from, at, by)
          : trimmedEnd(d.from, at, by, room);
    session.edit(patch.length ? patch : asItWas(d.from, at), d.gesture);
  }

  function onUp() {
    const to = drop;
    drag.current = null;
    setDrop(null);
    if (to !== null && to !== index) {
      session.edit(moved(index, to));
      see({ chosen: { kind: "piece", index: to } });
    }
  }

  return (
    <>
      <div
        role="listitem"
        className={`piece${chosen ? " chosen" : ""}${gone ? " gone" : ""}${drop !== null ? " dragged" : ""}`}
        style={{ left, width }}
      >
        <button
          className="piece-body"
          aria-label={`${name}, ${frames} frames from frame ${start}`}
          aria-pressed={chosen}
          style={{
            clipPath: `polygon(${slope(overlap)} 0, 100% 0, ${slope(frames - room)} 100%, 0 100%)`,
          }}
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            see({ chosen: { kind: "piece", index } });
            drag.current = {
              x: event.clientX,
              part: partAt(event),
              from: piece,
              gesture: crypto.randomUUID(),
              last: 0,
            };
          }}
          onPointerMove={onMove}
          onPointerUp={onUp}
          onPointerCancel={onUp}
          onClick={() => see({ chosen: { kind: "piece", index } })}
          onDoubleClick={() => see({ frame: start + overlap, playing: false })}
        >
          <PieceFace {...{ piece, shot, name, gone }} inset={slope(overlap)} />
        </button>
      </div>
      {drop !== null && <DropMark index={index} at={drop} scale={scale} />}
    </>
  );
}

/** What a piece shows: its poster or colour, and its name. */
function PieceFace({
  piece,
  shot,
  name,
  gone,
  inset,
}: {
  piece: Piece;
  shot: { id: string; revision: number } | undefined;
  name: string;
  gone: boolean;
  inset: string;
}) {
  return (
    <>
      {piece.kind === "shot" && shot ? (
        <span className="piece-poster" style={{ left: inset }}>
          <Poster shot={shot.id} revision={shot.revision} small />
        </span>
      ) : (
        <span
          className="piece-colour"
          style={{ background: piece.kind === "colour" ? css(piece) : undefined }}
        />
      )}
      <span className="piece-name" style={{ marginLeft: inset }}>
        {gone && "⚠ "}
        {name}
        {piece.speed !== 1 && piece.kind === "shot" && <span className="mono"> {piece.speed}×</span>}
      </span>
    </>
  );
}

const asItWas = (piece: Piece, at: string): Operation[] => [
  { op: "replace", path: `${at}/frames`, value: piece.frames ?? 1 },
  { op: "replace", path: `${at}/skip`, value: piece.skip ?? 0 },
];

/** Where a dragged piece would go. */
function DropMark({ index, at, scale }: { index: number; at: number; scale: Scale }) {
  const { starts, document } = useOpen();
  const others = document.line!.map((_, i) => i).filter((i) => i !== index);
  const before = others[at];
  const last = others.at(-1);
  const frame =
    before !== undefined
      ? starts[before]!
      : last !== undefined
        ? starts[last]! + (document.line![last]!.frames ?? 0)
        : 0;
  return <div className="piece-drop" style={{ left: Math.max(MARGIN, toX(scale, frame)) }} />;
}

function css(piece: Piece): string {
  const encode = (v = 0) => Math.round(255 * (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055));
  const { r, g, b } = piece.colour ?? {};
  return `rgb(${encode(r)} ${encode(g)} ${encode(b)})`;
}
