import type { Schemas } from "../../api/client";

export type Stretch = Schemas["Stretch"];

/** The stretch a frame lies in; none where no shot can be shown alone. */
export const stretchAt = (live: Stretch[], frame: number): Stretch | undefined =>
  live.find(({ first, last }) => first <= frame && frame <= last);

/** The frame of its shot at a frame of the sequence. */
export const shotFrame = ({ first, frame, speed, gains }: Stretch, at: number): number =>
  Math.max(0, frame + (at - first) * speed + ((at - first) ** 2 * gains) / 200);

/** The stretch of the next other shot from a frame on; from the beginning where none is left. */
export function nextOther(live: Stretch[], frame: number): Stretch | undefined {
  const present = stretchAt(live, frame)?.shot;
  const others = live.filter(({ shot }) => shot !== present);
  return others.find(({ first }) => first > frame) ?? others[0];
}

/** Of what was held the latest, with what is wanted now last; so many at most. */
export function recent(held: string[], wanted: string[], most: number): string[] {
  const next = [...held.filter((name) => !wanted.includes(name)), ...wanted].slice(-most);
  return next.length === held.length && next.every((name) => held.includes(name)) ? held : next;
}

/** What the live picture of a stretch leaves out, in words. */
export function lacking({ transition, over }: Stretch): string {
  const names = [transition && "the transition", over && "what lies above"].filter(Boolean);
  return names.length ? ` without ${names.join(" and ")}` : "";
}
