/** The frame that is shown `gone` frames after `from`, within a range; null once it is over. */
export function framePlayed(
  from: number,
  gone: number,
  [first, last]: [number, number],
  { loop, toAndFro }: { loop: boolean; toAndFro: boolean },
): number | null {
  const count = last - first + 1;
  const at = Math.min(Math.max(from, first), last) - first + gone;
  if (!loop) return at >= count - 1 ? null : first + at;
  if (!toAndFro || count < 2) return first + (at % count);
  const turn = at % (2 * count - 2);
  return first + (turn < count ? turn : 2 * count - 2 - turn);
}
