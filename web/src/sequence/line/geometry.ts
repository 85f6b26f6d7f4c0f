import type { Schemas } from "../../api/client";
import type { Operation } from "../../shot/document/patches";
import { overlapOf, type Sequence } from "../session";

export type Piece = Schemas["SequencePiece"];

const replace = (path: string, value: unknown): Operation => ({ op: "replace", path, value });

/** The frame of its shot at a frame of a piece, which may lie before its first one. */
export const course = ({ skip = 0, speed = 1, gains = 0 }: Piece, index: number): number =>
  skip + index * speed + (index * index * gains) / 200;

/** What makes a piece begin so many frames later and run on as it does. */
export function begun(piece: Piece, first: number): { skip: number; speed: number } {
  const { speed = 1, gains = 0 } = piece;
  return {
    skip: Math.max(0, course(piece, first)),
    speed: Math.max(-8, Math.min(8, speed + (first * gains) / 100)),
  };
}

const beginsLater = (piece: Piece, at: string, by: number): Operation[] => {
  const { skip, speed } = begun(piece, by);
  const ramp = piece.gains ? [replace(`${at}/speed`, speed)] : [];
  return [replace(`${at}/skip`, skip), ...ramp];
};

/** A piece whose beginning is moved by some frames: it shows more or less of its shot there. */
export function trimmedStart(piece: Piece, at: string, by: number): Operation[] {
  const { skip = 0, frames = 1, speed = 1 } = piece;
  const least = speed > 0 && piece.kind !== "colour" ? Math.ceil(-skip / speed) : -100_000;
  const most = frames - 1 - overlapOf(piece);
  const moved = Math.max(least, Math.min(most, Math.round(by)));
  if (!moved) return [];
  const patch = [replace(`${at}/frames`, frames - moved)];
  if (piece.kind !== "colour") patch.push(...beginsLater(piece, at, moved));
  return patch;
}

/** A piece whose end is moved by some frames; `room` is what the transition after it needs. */
export function trimmedEnd(piece: Piece, at: string, by: number, room: number): Operation[] {
  const { frames = 1 } = piece;
  const next = Math.max(1, overlapOf(piece) + room, frames + Math.round(by));
  return next === frames ? [] : [replace(`${at}/frames`, next)];
}

/** The cut after a piece, moved by some frames: the one lasts longer, the next one begins later. */
export function rolled(sequence: Sequence, index: number, by: number): Operation[] {
  const [piece, next] = [sequence.line![index], sequence.line![index + 1]];
  if (!piece || !next) return [];
  const after = sequence.line![index + 2];
  const overlap = overlapOf(next);
  const { frames = 1 } = piece;
  const { skip = 0, speed = 1 } = next;
  const low = Math.max(
    1 - frames,
    (index ? overlapOf(piece) : 0) + overlap - frames,
    next.kind !== "colour" && speed > 0 ? Math.ceil(-skip / speed) : -100_000,
  );
  const high = (next.frames ?? 1) - Math.max(1, overlap + (after ? overlapOf(after) : 0));
  const moved = Math.max(low, Math.min(high, Math.round(by)));
  if (!moved) return [];
  const at = `/line/${index + 1}`;
  const patch = [
    replace(`/line/${index}/frames`, frames + moved),
    replace(`${at}/frames`, (next.frames ?? 1) - moved),
  ];
  if (next.kind !== "colour") patch.push(...beginsLater(next, at, moved));
  return patch;
}

/** Another stretch of the same shot, as long as before. */
export function slipped(piece: Piece, at: string, by: number): Operation[] {
  const { skip = 0, speed = 1 } = piece;
  const next = Math.max(0, skip - Math.round(by) * speed);
  return next === skip ? [] : [replace(`${at}/skip`, next)];
}

/** A piece that is cut in two at one of its frames. */
export function split(sequence: Sequence, index: number, frame: number): Operation[] {
  const piece = sequence.line![index]!;
  const after = sequence.line![index + 1];
  const { frames = 1 } = piece;
  if (frame <= overlapOf(piece) || frame >= frames - (after ? overlapOf(after) : 0)) return [];
  const rest: Piece = {
    ...piece,
    frames: frames - frame,
    ...begun(piece, frame),
    transition: { ...piece.transition!, kind: "cut" },
  };
  return [
    replace(`/line/${index}/frames`, frame),
    { op: "add", path: `/line/${index + 1}`, value: rest as unknown as Record<string, unknown> },
  ];
}

/** A piece that goes to another place of the line. */
export const moved = (from: number, to: number): Operation[] =>
  from === to ? [] : [{ op: "move", from: `/line/${from}`, path: `/line/${to}` }];

/** Where a piece that is dropped at a frame goes: before the first whose middle lies beyond it. */
export function dropIndex(sequence: Sequence, starts: number[], dragged: number, frame: number): number {
  const others = sequence.line!.flatMap((piece, index) =>
    index === dragged ? [] : [starts[index]! + (piece.frames ?? 0) / 2],
  );
  const found = others.findIndex((middle) => frame < middle);
  return found < 0 ? others.length : found;
}

/** Frames that what is dragged snaps to, within some frames: the nearest, or the frame itself. */
export function snapped(frame: number, places: number[], within: number): number {
  let best = frame;
  let least = within;
  for (const place of places) {
    const away = Math.abs(place - frame);
    if (away <= least) [best, least] = [place, away];
  }
  return best;
}
