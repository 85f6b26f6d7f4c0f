import type { Schemas } from "../../api/client";
import { HEIGHT } from "../../shot/time/waveOutline";

export type Level = { frame: number; gain: number };

/** Decibels at the lower and the upper edge of a row. */
const LOW = -42;
const HIGH = 12;
/** Levels are this far apart at least, in frames. */
const APART = 0.5;

export const levelsOf = (sound: Schemas["HeardSound"]): Level[] =>
  (sound.levels ?? []).map(({ frame = 0, gain = 0 }) => ({ frame, gain }));

/** Where a level is drawn in a row, and what level is meant there. */
export const toY = (gain: number): number => 2 + ((HIGH - Math.max(LOW, gain)) / (HIGH - LOW)) * (HEIGHT - 4);
export const toGain = (y: number): number => {
  const gain = HIGH - ((y - 2) / (HEIGHT - 4)) * (HIGH - LOW);
  return gain <= LOW + 0.5 ? -60 : Math.min(HIGH, Math.round(gain * 10) / 10);
};

/** The level at a frame: between two of them it goes evenly, before and after them it stays. */
export function levelAt(levels: Level[], frame: number): number {
  const after = levels.findIndex((one) => one.frame >= frame);
  if (after < 0) return levels.at(-1)?.gain ?? 0;
  const to = levels[after]!;
  const from = levels[after - 1];
  if (!from) return to.gain;
  return from.gain + ((to.gain - from.gain) * (frame - from.frame)) / (to.frame - from.frame);
}

/** Levels with one more, or another gain at a frame where there is one. */
export function withLevel(levels: Level[], frame: number, gain: number): Level[] {
  const others = levels.filter((one) => Math.abs(one.frame - frame) >= APART);
  return [...others, { frame: Math.max(0, frame), gain }].sort((a, b) => a.frame - b.frame);
}

/** Levels of which one is elsewhere; it does not pass its neighbours. */
export function movedLevel(levels: Level[], index: number, frame: number, gain: number): Level[] {
  const low = index ? levels[index - 1]!.frame + APART : 0;
  const high = index + 1 < levels.length ? levels[index + 1]!.frame - APART : 200_000;
  return levels.map((one, k) => (k === index ? { frame: Math.max(low, Math.min(high, frame)), gain } : one));
}
