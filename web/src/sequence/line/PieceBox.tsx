import { useRef, useState, type PointerEvent } from "react";
import { Poster } from "../../productions/Poster";
import type { Operation } from "../../shot/document/patches";
import { MARGIN, toFrame, toX, type Scale } from "../../shot/time/scale";
import { useOpen, useSequenceSession } from "../context";
import { overlapOf, type Sequence } from "../session";
import { see, useSequenceView } from "../view";
import {
  begun,
  dropIndex,
  moved,
  rolled,
  slipped,
  snapped,
  trimmedEnd,
  trimmedStart,
  type Piece,
} from "./geometry";

const NEAR = 7;

type Part = "start" | "end" | "whole";

interface Drag {
  x: number;
  part: Part;
  /** The cut at this end is moved, and what comes after stays where it is. */
  rolls: boolean;
  of: Sequence;
  from: Piece;
  gesture: string;
  last: number;
}

/**
 * A piece on the line: dragged it goes elsewhere, with Alt its shot slips; at its ends it is trimmed, with
 * Alt the cut there is moved.
 */
export function PieceBox({
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
  const { document, starts, shots, others, missing } = useOpen();
  const chosen = useSequenceView((s) => s.chosen?.kind === "piece" && s.chosen.index === index);
  const drag = useRef<Drag | null>(null);
  const [drop, setDrop] = useState<number | null>(null);
  const frames = piece.frames ?? 1;
  const overlap = index ? overlapOf(piece) : 0;
  const next = document.line![index + 1];
  const room = next ? overlapOf(next) : 0;
  const left = toX(scale, start);
  const width = toX(scale, start + frames) - left;
  const slope = (n: number) => `${(100 * n) / frames}%`;
  const shot = shots.find((one) => one.id === piece.shot);
  const other = others.find((one) => one.id === piece.sequence);
  const name =
    piece.kind === "colour" ? piece.name || "Black" : ((shot ?? other)?.name ?? piece.name ?? "Shot");
  const gone =
    piece.kind === "sequence" ? !other : piece.kind === "shot" && missing.includes(piece.shot ?? "");

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
    session.edit(patchOf(d, index, by, room), d.gesture);
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
            const part = partAt(event);
            const cut = part === "end" ? index : index - 1;
            drag.current = {
              x: event.clientX,
              part,
              rolls: event.altKey && part !== "whole" && cut >= 0 && cut + 1 < document.line!.length,
              of: document,
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
        {piece.kind === "shot" && <span className="mono">{paceOf(piece)}</span>}
      </span>
    </>
  );
}

/** Always from what it was when the gesture began; the last patch of a gesture wins. */
function patchOf(d: Drag, index: number, by: number, room: number): Operation[] {
  const at = `/line/${index}`;
  if (d.rolls) {
    const cut = d.part === "end" ? index : index - 1;
    const patch = rolled(d.of, cut, by);
    return patch.length ? patch : [cut, cut + 1].flatMap((k) => asItWas(d.of.line![k]!, `/line/${k}`));
  }
  const patch =
    d.part === "whole"
      ? slipped(d.from, at, by)
      : d.part === "start"
        ? trimmedStart(d.from, at, by)
        : trimmedEnd(d.from, at, by, room);
  return patch.length ? patch : asItWas(d.from, at);
}

/** How fast a piece runs, from its beginning to its end; nothing where that is as it was made. */
function paceOf(piece: Piece): string {
  const { speed = 1, gains = 0, frames = 1 } = piece;
  if (gains) return ` ${speed.toFixed(1)}× to ${begun(piece, frames).speed.toFixed(1)}×`;
  return speed === 1 ? "" : ` ${speed}×`;
}

const asItWas = (piece: Piece, at: string): Operation[] => [
  ...(piece.gains ? [{ op: "replace" as const, path: `${at}/speed`, value: piece.speed ?? 1 }] : []),
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
