import { valueAt } from "./pointer";
import type { Operation, Shot } from "./patches";

interface Span {
  start: number;
  end: number;
}

/** What changed between two rows of things: from `start` on `removed` of them gave way to `added`. */
interface Change {
  start: number;
  removed: number;
  added: number;
}

/** New words for the title at an address; ranges, gaps and single poses stay with the letters they belong to, and so do their keys. */
export function retyped(shot: Shot, at: string, words: string): Operation[] {
  const before = String(valueAt(shot, `${at}/words`) ?? "");
  const patch: Operation[] = [{ op: "replace", path: `${at}/words`, value: words }];
  const letters = change([...before], [...words]);
  const kept: Record<string, Change> = {
    letter: letters,
    word: change(wordsOf(before), wordsOf(words)),
    line: change(before.split("\n"), words.split("\n")),
  };

  const ranges = (valueAt(shot, `${at}/ranges`) as Span[] | undefined) ?? [];
  const moved = ranges.map((range) => ({ ...range, ...spanAfter(range, letters) }));
  if (differs(moved, ranges)) patch.push({ op: "replace", path: `${at}/ranges`, value: moved });

  const names = (list: string) =>
    Object.keys((valueAt(shot, `${at}/setting/${list}`) as object | undefined) ?? {});
  const renamed = {
    gaps: new Map(names("gaps").map((name) => [name, placeAfter(Number(name), letters)?.toString()])),
    poses: new Map(
      names("poses").map((name) => {
        const [kind, place] = name.split("-") as [string, string];
        const next = placeAfter(Number(place), kept[kind] ?? letters);
        return [name, next === null ? undefined : `${kind}-${next}`];
      }),
    ),
  };
  const channels: Record<string, unknown> = { ...shot.channels };
  for (const [list, places] of Object.entries(renamed)) {
    if ([...places].every(([name, next]) => name === next)) continue;
    const values = valueAt(shot, `${at}/setting/${list}`) as Record<string, unknown>;
    const next = [...places].flatMap(([name, to]) => (to === undefined ? [] : [[to, values[name]] as const]));
    patch.push({ op: "replace", path: `${at}/setting/${list}`, value: Object.fromEntries(next) });
    const below = `${at}/setting/${list}/`;
    for (const pointer of Object.keys(shot.channels ?? {}).filter((p) => p.startsWith(below)))
      delete channels[pointer];
    for (const [pointer, channel] of Object.entries(shot.channels ?? {})) {
      if (!pointer.startsWith(below)) continue;
      const [name, ...rest] = pointer.slice(below.length).split("/");
      const to = places.get(name!);
      if (to !== undefined) channels[[below + to, ...rest].join("/")] = channel;
    }
  }
  if (differs(channels, shot.channels ?? {}))
    patch.push({ op: "replace", path: "/channels", value: channels });
  return patch;
}

const differs = (a: unknown, b: unknown) => JSON.stringify(a) !== JSON.stringify(b);
const wordsOf = (text: string) => text.split(/\s+/).filter(Boolean);

function change(before: string[], after: string[]): Change {
  const most = Math.min(before.length, after.length);
  let start = 0;
  while (start < most && before[start] === after[start]) start++;
  let end = 0;
  while (end < most - start && before[before.length - 1 - end] === after[after.length - 1 - end]) end++;
  return { start, removed: before.length - start - end, added: after.length - start - end };
}

/** Where something goes; null where it was taken away and nothing took its place. */
function placeAfter(place: number, { start, removed, added }: Change): number | null {
  if (place < start) return place;
  if (place >= start + removed) return place + added - removed;
  return place - start < added ? place : null;
}

function spanAfter({ start, end }: Span, { start: from, removed, added }: Change): Span {
  const shift = (place: number) => place + added - removed;
  const first = start < from ? start : start >= from + removed ? shift(start) : Math.min(start, from + added);
  const last = end <= from ? end : end >= from + removed ? shift(end) : Math.min(end, from + added);
  return { start: Math.min(first, last), end: Math.max(first, last) };
}
