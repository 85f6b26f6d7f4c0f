import type { Schemas } from "../../api/client";
import type { Shot } from "../document/patches";
import { toX, type Scale } from "./scale";

/** Pixels within which what is dragged goes to a place. */
const NEAR = 6;

interface Left {
  /** The thing whose own span is dragged; its keys may go along. */
  thing?: string;
  /** Whether a key is being dragged itself. */
  moving?: (pointer: string, frame: number) => boolean;
}

/**
 * Frames that something dragged in time goes to: ends of the shot and of spans, markers, keys, the
 * playhead.
 */
export function placesIn(shot: Shot, frames: number, playhead: number, left: Left = {}): number[] {
  const ends = Object.entries(shot.things ?? {}).flatMap(([id, thing]) => {
    const { span } = thing as { span?: Schemas["Span"] };
    return id === left.thing || !span || span.whole ? [] : [span.start!, span.end!];
  });
  const marks = (shot.markers ?? []).map((marker) => marker.frame ?? 0);
  const keys = Object.entries(shot.channels ?? {}).flatMap(([pointer, channel]) =>
    pointer.startsWith(`/things/${left.thing}/`)
      ? []
      : channel.keys.map((key) => key.frame).filter((frame) => !left.moving?.(pointer, frame)),
  );
  return [...new Set([0, frames, playhead, ...ends, ...marks, ...keys])];
}

/** The nearest of these places if it is near on the screen, else the whole frame. */
export function snapped(scale: Scale, places: number[], frame: number): number {
  const off = (place: number) => Math.abs(toX(scale, place) - toX(scale, frame));
  const nearest = places.reduce((best, place) => (off(place) < off(best) ? place : best), Infinity);
  return off(nearest) < NEAR ? nearest : Math.round(frame);
}
